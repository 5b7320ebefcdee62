/** The desk's small controls. Each has a name that can be read aloud. */

import {
  type KeyboardEvent,
  type ReactNode,
  useContext,
  useEffect,
  useId,
  useReducer,
  useRef,
  useState,
} from 'react';
import { limitsOf, NumberDraft, type NumberField, shownAs } from './numberDraft';
import { Refusals } from './refusals';

interface IconButtonProps {
  readonly icon: string;
  readonly label: string;
  readonly onClick: () => void;
  readonly disabled?: boolean;
  readonly pressed?: boolean;
  readonly className?: string;
}

export function IconButton(props: IconButtonProps) {
  const { icon, label, onClick, disabled, pressed, className = '' } = props;
  return (
    <button
      type="button"
      className={`icon-button ${className}`}
      aria-label={label}
      aria-pressed={pressed}
      title={label}
      onClick={onClick}
      disabled={disabled ?? false}
    >
      <i className={`bi bi-${icon}`} aria-hidden="true" />
    </button>
  );
}

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly options: readonly {
    readonly value: T;
    readonly text: ReactNode;
    readonly hint?: string;
  }[];
  readonly value: T | null;
  readonly onChange: (value: T) => void;
  readonly className?: string;
  readonly disabled?: boolean;
}

/** One of a few, side by side; arrow keys walk along them. */
export function Choice<T extends string>(props: ChoiceProps<T>) {
  const { label, options, value, onChange, className = 'segment', disabled } = props;
  const walk = (event: KeyboardEvent<HTMLDivElement>) => {
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const here = Math.max(
      0,
      options.findIndex((option) => option.value === value),
    );
    const next = (here + step + options.length) % options.length;
    onChange(options[next].value);
    const buttons = event.currentTarget.querySelectorAll('button');
    buttons[next].focus();
  };
  return (
    <div className={className} role="radiogroup" aria-label={label} onKeyDown={walk}>
      {options.map((option, place) => (
        // biome-ignore lint/a11y/useSemanticElements: a drawn choice, with its role and keys
        <button
          key={option.value}
          type="button"
          role="radio"
          aria-checked={option.value === value}
          title={option.hint}
          tabIndex={option.value === value || (value === null && place === 0) ? 0 : -1}
          disabled={disabled ?? false}
          onClick={() => onChange(option.value)}
        >
          {option.text}
        </button>
      ))}
    </div>
  );
}

interface TickProps {
  readonly label: ReactNode;
  readonly hint?: string;
  readonly checked: boolean;
  readonly disabled?: boolean;
  readonly onChange: (checked: boolean) => void;
}

export function Tick({ label, hint, checked, disabled, onChange }: TickProps) {
  return (
    <label className="tick" title={hint}>
      <input
        type="checkbox"
        checked={checked}
        disabled={disabled ?? false}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}

interface FieldLineProps {
  readonly name: ReactNode;
  readonly children: ReactNode;
  /** What a form asks first. */
  readonly isFirst?: boolean;
}

/** A field with what it is called before it; several side by side make a pair. */
export function FieldLine({ name, children, isFirst }: FieldLineProps) {
  return (
    <div className="field-line" data-first={isFirst}>
      <span>{name}</span>
      {children}
    </div>
  );
}

interface NumberBoxProps {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  readonly decimals?: number;
  readonly onCommit: (value: number) => void;
  readonly disabled?: boolean;
  readonly smallest?: number;
  readonly largest?: number;
  /** Hear of the field being entered and left. */
  readonly onHold?: (held: boolean) => void;
}

/** A number that is committed by Enter or by leaving; Escape puts it back; arrows step it. */
export function NumberBox(props: NumberBoxProps) {
  const { label, unit, onCommit, disabled, onHold } = props;
  const field: NumberField = { ...props, decimals: props.decimals ?? 0 };
  const [draft] = useState(() => new NumberDraft(field));
  const [, paint] = useReducer((count: number) => count + 1, 0);
  const now = useRef(field);
  now.current = field;
  const id = useId();
  const standing = shownAs(field);
  // biome-ignore lint/correctness/useExhaustiveDependencies: an answer is another number as it is shown
  useEffect(() => {
    draft.answered(now.current);
    paint();
  }, [draft, standing]);
  const refusals = useContext(Refusals);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each refusal counts, whatever its number
  useEffect(() => {
    draft.refusedByServer(now.current);
    paint();
  }, [draft, refusals]);
  const commit = (number: number | null) => {
    paint();
    if (number !== null) onCommit(number);
  };

  return (
    <span className={`number-box ${draft.isRefused ? 'is-refused' : ''}`}>
      <input
        id={id}
        aria-label={label}
        aria-invalid={draft.isRefused}
        aria-describedby={draft.isRefused ? `${id}-refusal` : undefined}
        inputMode="decimal"
        style={{ width: `${Math.max(2.6, draft.text.length + 0.6)}ch` }}
        value={draft.text}
        disabled={disabled ?? false}
        onFocus={(event) => {
          event.target.select();
          onHold?.(true);
        }}
        onChange={(event) => {
          draft.write(event.target.value);
          paint();
        }}
        onBlur={() => {
          commit(draft.left(field));
          onHold?.(false);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            // Leaving keeps the number; a form that it stands in is not sent, and keys are the room's again.
            event.preventDefault();
            event.currentTarget.blur();
          }
          if (event.key === 'Escape') {
            draft.putBack(field);
            event.currentTarget.blur();
          }
          const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
          if (way) {
            event.preventDefault();
            commit(draft.stepped(way * (event.shiftKey ? 10 : 1), field));
          }
        }}
      />
      {unit && <small>{unit}</small>}
      {draft.isRefused && (
        <span className="refusal" id={`${id}-refusal`} role="alert">
          {limitsOf(field)}
        </span>
      )}
    </span>
  );
}
