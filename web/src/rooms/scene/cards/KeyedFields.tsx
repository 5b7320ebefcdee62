import type { Schemas } from '../../../api/client';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';

/** What the cards of the camera and of guides have in common: places, spans, how long each one stays. */

type Place = readonly [number, number, number];
type Span = Schemas['DeskCameraKey']['span'];

interface PlaceProps {
  readonly name: string;
  readonly place: Place;
  readonly disabled: boolean;
  readonly onPlace: (place: [number, number, number]) => void;
}

/** A place in metres, axis by axis. */
export function PlaceField({ name, place, disabled, onPlace }: PlaceProps) {
  return (
    <FieldLine name={name}>
      <span className="pair">
        {(['x', 'y', 'z'] as const).map((axis, k) => (
          <NumberBox
            key={axis}
            label={`${name}, ${axis}`}
            value={place[k]}
            decimals={2}
            disabled={disabled}
            onCommit={(value) => {
              const to: [number, number, number] = [...place];
              to[k] = value;
              onPlace(to);
            }}
          />
        ))}
      </span>
    </FieldLine>
  );
}

interface SpanProps {
  readonly span: Span;
  readonly disabled: boolean;
  readonly onSpan: (span: Span) => void;
}

/** How a key goes on to the next one. */
export function SpanField({ span, disabled, onSpan }: SpanProps) {
  return (
    <Choice<Span>
      label="How it goes on to the next key"
      value={span}
      disabled={disabled}
      onChange={onSpan}
      options={[
        { value: 'eased', text: 'eased' },
        { value: 'even', text: 'even' },
        { value: 'hold', text: 'held' },
      ]}
    />
  );
}

interface HoldProps {
  readonly label: string;
  readonly exposure: Schemas['DeskExposure'];
  readonly disabled: boolean;
  readonly onHold: (frames: number) => void;
}

/** How long each place stays. */
export function HoldField({ label, exposure, disabled, onHold }: HoldProps) {
  return (
    <FieldLine name="Exposure">
      <select
        className="form-select"
        aria-label={label}
        disabled={disabled}
        value={String(exposure.pattern[0])}
        onChange={({ target }) => onHold(Number(target.value))}
      >
        <option value="1">on ones</option>
        <option value="2">on twos</option>
        <option value="3">on threes</option>
      </select>
    </FieldLine>
  );
}
