import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox } from '../../../app/controls';
import type { LaidHead } from '../../../player/laidHead';
import type { Edit } from '../useScene';

interface StintWeightProps {
  readonly stint: Schemas['DeskStint'];
  readonly head: LaidHead;
  readonly disabled: boolean;
  readonly onEdit: (edit: Edit) => void;
}

/** How much of a stint shows over the lanes below: fades at both ends, or keys of its own. */
export function StintWeight({ stint, head, disabled, onEdit }: StintWeightProps) {
  const keys = stint.weight_keys;
  const faded = stint.fades;
  const fade = (change: Partial<NonNullable<typeof faded>>) => {
    const { fade_in = 0, fade_out = 0, weight = 1 } = { ...faded, ...change };
    onEdit({ kind: 'fade_stint', stint: stint.id, fade_in, fade_out, weight });
  };
  return (
    <section aria-label="Weight over the lanes below">
      <h3>
        Weight <em>how much of it shows</em>
      </h3>
      {faded ? (
        <>
          <FieldLine name="Fades in, out">
            <span className="pair">
              <NumberBox
                label="Frames that it fades in over"
                value={faded.fade_in}
                smallest={0}
                unit="fr"
                disabled={disabled}
                onCommit={(fade_in) => fade({ fade_in })}
              />
              <NumberBox
                label="Frames that it fades out over"
                value={faded.fade_out}
                smallest={0}
                unit="fr"
                disabled={disabled}
                onCommit={(fade_out) => fade({ fade_out })}
              />
            </span>
          </FieldLine>
          <FieldLine name="At the most">
            <NumberBox
              label="Weight of the stint in percent"
              value={faded.weight * 100}
              unit="%"
              smallest={0}
              largest={100}
              disabled={disabled}
              onCommit={(percent) => fade({ weight: percent / 100 })}
            />
          </FieldLine>
        </>
      ) : (
        <FieldLine name="By keys of its own">
          <button
            type="button"
            className="btn btn-paper btn-small"
            disabled={disabled}
            title="Fades take the place of its keys"
            onClick={() => fade({})}
          >
            Fade it instead
          </button>
        </FieldLine>
      )}
      <FieldLine name={`${keys.length} keys`}>
        <span className="pair">
          <NumberBox
            label="Weight to key at the playhead, in percent"
            value={weightAt(stint, head.frame) * 100}
            unit="%"
            smallest={0}
            largest={100}
            disabled={disabled}
            onCommit={(percent) =>
              onEdit({
                kind: 'key_weight',
                stint: stint.id,
                frame: head.frame,
                weight: percent / 100,
              })
            }
          />
          <button
            type="button"
            className="btn btn-paper btn-small"
            disabled={disabled || keys.length === 0}
            title="Take away the key of the weight at the playhead"
            onClick={() =>
              onEdit({ kind: 'key_weight', stint: stint.id, frame: head.frame, weight: null })
            }
          >
            Take key
          </button>
        </span>
      </FieldLine>
    </section>
  );
}

/** The weight as it is drawn, at a frame. */
function weightAt({ start, end, weights }: Schemas['DeskStint'], frame: number): number {
  if (!weights) return 1;
  const share = Math.max(0, Math.min(1, (frame - start) / (end - start)));
  return weights[Math.round(share * (weights.length - 1))];
}
