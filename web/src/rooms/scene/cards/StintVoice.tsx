import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox } from '../../../app/controls';
import { bodyQuery } from '../bodyQuery';
import type { CardProps } from './card';

interface VoiceProps extends Pick<CardProps, 'onEdit'> {
  readonly stint: Schemas['DeskStint'];
  /** The figure that says it. */
  readonly figure: string;
  readonly disabled: boolean;
}

const JAW = /jaw|chin|beak|mandible/i;
const WIDEST_DEGREES = 18;

/** A line’s drawings on a figure: whether they move with their sound, and a jaw that goes with its mouths. */
export function StintVoice({ stint, figure, disabled, onEdit }: VoiceProps) {
  const isMouth = stint.source.kind === 'line' && stint.source.part !== 'eyes';
  return (
    <>
      <div className="card-line">
        <span>{stint.made.with_sound ? 'Moves with its sound' : 'Moves on its own'}</span>
        <span className="grow" />
        {stint.made.with_sound && !disabled && (
          <button
            type="button"
            className="btn btn-paper"
            title="Where the sound moves, these drawings stay"
            onClick={() => onEdit({ kind: 'free_from_sound', stint: stint.id })}
          >
            Free it
          </button>
        )}
      </div>
      {isMouth && !disabled && <DrivenJaw stint={stint} figure={figure} onEdit={onEdit} />}
    </>
  );
}

/** A joint that opens by how open the mouth is, as fixes on a fix lane. */
function DrivenJaw({ stint, figure, onEdit }: Omit<VoiceProps, 'disabled'>) {
  const { data: body } = useQuery(bodyQuery(figure));
  const [chosen, setChosen] = useState<string | null>(null);
  const [degrees, setDegrees] = useState(WIDEST_DEGREES);
  // The root carries the whole figure.
  const joints = body?.joints.slice(1) ?? [];
  const jaw = joints.find(({ name, label }) => JAW.test(name) || JAW.test(label));
  const joint = chosen ?? jaw?.name ?? '';
  return (
    <>
      <FieldLine name="Jaw">
        <span className="pair">
          <select
            className="form-select"
            aria-label="The joint that opens with the mouth"
            value={joint}
            onChange={({ target }) => setChosen(target.value)}
          >
            <option value="">none</option>
            {joints.map(({ name, label }) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
          <NumberBox label="Widest, turned down" value={degrees} unit="°" onCommit={setDegrees} />
        </span>
      </FieldLine>
      {joint && (
        <button
          type="button"
          className="btn btn-paper"
          title="Fixes on a fix lane of its own, to be changed like any others; once more, and they are made anew"
          onClick={() =>
            onEdit({ kind: 'drive_jaw', stint: stint.id, joint, degrees, ease_frames: 2 })
          }
        >
          Open it with the mouth
        </button>
      )}
    </>
  );
}
