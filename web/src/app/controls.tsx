/** The desk's small controls. Each has a name that can be read aloud. */

import {
  type KeyboardEvent,
  type ReactNode,
  useContext,
  useEffect,
  useId,
  useRef,
  useState,
} from 'react';
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
}

/** A field with what it is called before it; several side by side make a pair. */
export function FieldLine({ name, children }: FieldLineProps) {
  return (
    <div className="field-line">
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
  const { label, value, unit, decimals = 0, onCommit, disabled, smallest, largest, onHold } = props;
  const shown = format(value, decimals);
  const [text, setText] = useState(shown);
  const [refused, setRefused] = useState(false);
  const id = useId();
  // Arrows can be pressed faster than answers come: each press goes on from the one before.
  const ahead = useRef<number | null>(null);
  const isWritten = useRef(false);
  useEffect(() => {
    // What is being written is not taken away by an answer that comes meanwhile.
    if (isWritten.current) return;
    if (ahead.current !== null && format(ahead.current, decimals) !== shown) return;
    ahead.current = null;
    setText(shown);
    setRefused(false);
  }, [shown, decimals]);

  const calledOff = useRef(false);
  const putBack = () => {
    ahead.current = null;
    isWritten.current = false;
    setText(shown);
    setRefused(false);
  };
  const refusals = useContext(Refusals);
  const putBackNow = useRef(putBack);
  putBackNow.current = putBack;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each refusal counts, whatever its number
  useEffect(() => {
    if (!isWritten.current) putBackNow.current();
  }, [refusals]);
  const isGood = (number: number) =>
    Number.isFinite(number) && number >= (smallest ?? -1e9) && number <= (largest ?? 1e9);
  const commit = () => {
    isWritten.current = false;
    const number = numberIn(text);
    const good = isGood(number);
    setRefused(!good);
    if (!good || format(number, decimals) === shown) {
      if (good) setText(shown);
      return;
    }
    onCommit(number);
  };
  const step = (by: number) => {
    const from = isWritten.current && isGood(numberIn(text)) ? numberIn(text) : value;
    isWritten.current = false;
    const next = (ahead.current ?? from) + by;
    setRefused(!isGood(next));
    if (!isGood(next)) return;
    ahead.current = next;
    setText(format(next, decimals));
    onCommit(next);
  };

  return (
    <span className={`number-box ${refused ? 'is-refused' : ''}`}>
      <input
        id={id}
        aria-label={label}
        aria-invalid={refused}
        aria-describedby={refused ? `${id}-refusal` : undefined}
        inputMode="decimal"
        style={{ width: `${Math.max(2.6, text.length + 0.6)}ch` }}
        value={text}
        disabled={disabled ?? false}
        onFocus={(event) => {
          event.target.select();
          onHold?.(true);
        }}
        onChange={(event) => {
          ahead.current = null;
          isWritten.current = true;
          setText(event.target.value);
        }}
        onBlur={() => {
          if (calledOff.current || ahead.current !== null) putBack();
          else commit();
          calledOff.current = false;
          onHold?.(false);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            // Leaving keeps the number; a form that it stands in is not sent, and keys are the room's again.
            event.preventDefault();
            event.currentTarget.blur();
          }
          if (event.key === 'Escape') {
            calledOff.current = true;
            event.currentTarget.blur();
          }
          const way = { ArrowUp: 1, ArrowDown: -1 }[event.key];
          if (way) {
            event.preventDefault();
            step(way * (event.shiftKey ? 10 : 1));
          }
        }}
      />
      {unit && <small>{unit}</small>}
      {refused && (
        <span className="refusal" id={`${id}-refusal`} role="alert">
          {limitsOf(smallest, largest)}
        </span>
      )}
    </span>
  );
}

function limitsOf(smallest: number | undefined, largest: number | undefined): string {
  if (smallest === undefined) return 'Write a number.';
  return largest === undefined
    ? `Write a number, ${smallest} or more.`
    : `Write a number, ${smallest} to ${largest}.`;
}

/** What is written, with a comma or a point; nothing is no number. */
const numberIn = (text: string): number =>
  text.trim() ? Number(text.trim().replace(',', '.')) : Number.NaN;

function format(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  return decimals ? text.replace(/\.?0+$/, '') : text;
}
