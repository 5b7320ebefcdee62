import { useId, useRef, useState } from 'react';

interface NameFieldProps {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly disabled?: boolean;
  /** An empty name is committed too; what it means is the caller's. */
  readonly mayBeEmpty?: boolean;
  readonly onCommit: (name: string) => void;
}

/** A name that is committed by Enter or by leaving; Escape puts it back. */
export function NameField(props: NameFieldProps) {
  const { label, value, placeholder, disabled, mayBeEmpty, onCommit } = props;
  const [text, setText] = useState<string | null>(null);
  const calledOff = useRef(false);
  const id = useId();
  const commit = () => {
    const name = text?.trim();
    if (name !== undefined && name !== value && (name || mayBeEmpty)) onCommit(name);
    setText(null);
  };
  return (
    <div>
      <label className="form-label" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        className="form-control"
        data-name-field
        value={text ?? value}
        placeholder={placeholder}
        maxLength={120}
        disabled={disabled ?? false}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => {
          if (calledOff.current) setText(null);
          else commit();
          calledOff.current = false;
        }}
        onKeyDown={(event) => {
          // Leaving the field is what commits it, once.
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') {
            calledOff.current = true;
            event.currentTarget.blur();
            event.stopPropagation();
          }
        }}
      />
    </div>
  );
}
