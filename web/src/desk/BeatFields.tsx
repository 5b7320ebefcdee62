import type { Schemas } from '../api/client';
import { ColourChoice } from '../app/ColourChoice';
import { FieldLine, NumberBox } from '../app/controls';
import { NameField } from '../app/NameField';

interface BeatFieldsProps {
  readonly beat: Schemas['Beat'];
  readonly firstFrame: number;
  readonly disabled: boolean;
  readonly onEdit: (edit: Schemas['SetBeat']) => void;
}

/** A beat's name, colour and range. */
export function BeatFields({ beat, firstFrame, disabled, onEdit }: BeatFieldsProps) {
  const set = (part: Partial<Schemas['SetBeat']>) =>
    onEdit({ kind: 'set_beat', beat: beat.id, ...part });
  return (
    <>
      <NameField
        label="Name"
        value={beat.name}
        disabled={disabled}
        onCommit={(name) => set({ name })}
      />
      <ColourChoice
        label="Colour of the beat"
        value={beat.colour ?? null}
        disabled={disabled}
        onChange={(colour) => set({ colour })}
      />
      <FieldLine name="Frames">
        <span className="pair">
          <NumberBox
            label="First frame of the beat"
            value={beat.start + firstFrame}
            disabled={disabled}
            onCommit={(value) => set({ start: value - firstFrame })}
          />
          to
          <NumberBox
            label="Last frame of the beat"
            value={beat.end - 1 + firstFrame}
            disabled={disabled}
            onCommit={(value) => set({ end: value + 1 - firstFrame })}
          />
        </span>
      </FieldLine>
    </>
  );
}
