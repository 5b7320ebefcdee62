import { type FormEvent, type ReactNode, useId } from 'react';
import { Modal } from 'react-bootstrap';
import { sentence } from '../../api/client';
import { FieldLine } from '../../app/controls';

interface SheetProps {
  readonly title: string;
  /** What the button says that makes it. */
  readonly makes: string;
  readonly isReady: boolean;
  readonly problem: unknown;
  readonly onMake: () => void;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

/** A sheet on which something new is described, and made. */
export function NewSheet(props: SheetProps) {
  const { title, makes, isReady, problem, onMake, onClose, children } = props;
  const id = useId();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (isReady) onMake();
  };
  return (
    <Modal show onHide={onClose} aria-labelledby={id}>
      <form onSubmit={submit}>
        <Modal.Header closeButton>
          <Modal.Title id={id}>{title}</Modal.Title>
        </Modal.Header>
        <Modal.Body className="new-sheet">
          {children}
          {problem ? (
            <p className="refusal" role="alert">
              {sentence(problem)}
            </p>
          ) : null}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp" disabled={!isReady}>
            {makes}
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}

interface PickProps<Value extends string> {
  readonly name: string;
  /** What it is called where the name beside it says too little. */
  readonly label?: string;
  readonly value: Value;
  readonly options: readonly { readonly id: Value; readonly name: string }[];
  readonly onPick: (id: Value) => void;
  readonly disabled?: boolean;
}

/** One of some named things. */
export function PickOne<Value extends string>(props: PickProps<Value>) {
  const { name, label, value, options, onPick, disabled } = props;
  return (
    <FieldLine name={name}>
      <select
        className="form-select w-auto"
        aria-label={label ?? name}
        value={value}
        disabled={disabled}
        onChange={({ target }) => {
          const picked = options.find(({ id }) => id === target.value);
          if (picked) onPick(picked.id);
        }}
      >
        {options.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
      </select>
    </FieldLine>
  );
}
