import { IconButton, Tick } from '../../../app/controls';
import { counted } from '../../../app/counted';
import type { TakesRoomParts } from '../room';
import { isRefused } from '../sources';

/** Spikes by frame and joint: each is mended, refused, or made wider by hand. */
export function SpikesCard({ room }: { readonly room: TakesRoomParts }) {
  const { take, cleaned, onEdit, joints, player } = room;
  const spikes = cleaned?.spikes ?? [];
  const here = Math.round(cleaned?.at[player.frame] ?? 0);
  const joint = take.take.joints.find((name) => joints.includes(name)) ?? nameOn(room, joints[0]);
  return (
    <>
      <h2>{counted(spikes.length, 'spike')}</h2>
      {!spikes.length && <p className="quiet">Nothing in this take is off by more than that.</p>}
      <ul className="spike-list">
        {spikes.map((spike) => {
          const { mark } = spike;
          const refused = isRefused(take, mark);
          const said = `${spike.label} at ${mark.frame}`;
          return (
            <li key={`${mark.frame} ${mark.joint} ${spike.by_hand}`}>
              <button
                type="button"
                title="Go there"
                onClick={() => room.goTo(spike.at, onFigure(room, mark.joint))}
              >
                <span className="number">
                  {mark.frame}
                  {mark.end - mark.frame > 1 ? `–${mark.end - 1}` : ''}
                </span>
                <span className="name">{spike.label}</span>
                <span className="number">
                  {spike.by_hand ? 'by hand' : `${spike.degrees.toFixed(0)}°`}
                </span>
              </button>
              {take.may_change && (
                <>
                  <IconButton
                    icon="arrows-expand-vertical"
                    label={`Mend a sample more on either side: ${said}`}
                    onClick={() =>
                      onEdit({
                        kind: 'mark_spike',
                        spike: {
                          joint: mark.joint,
                          frame: Math.max(0, mark.frame - 1),
                          end: Math.min(take.take.length_frames, mark.end + 1),
                        },
                        marked: true,
                      })
                    }
                  />
                  <Tick
                    label={<span className="visually-hidden">Mend {said}</span>}
                    hint={refused ? 'Mend it after all' : 'It is none: leave it'}
                    checked={!refused}
                    onChange={(mend) =>
                      onEdit(
                        spike.by_hand
                          ? { kind: 'mark_spike', spike: mark, marked: mend }
                          : { kind: 'refuse_spike', spike: mark, refused: !mend },
                      )
                    }
                  />
                </>
              )}
            </li>
          );
        })}
      </ul>
      {take.may_change && joint && (
        <button
          type="button"
          className="btn btn-paper"
          onClick={() =>
            onEdit({
              kind: 'mark_spike',
              spike: { joint, frame: here, end: Math.min(take.take.length_frames, here + 3) },
              marked: true,
            })
          }
        >
          Mend three samples here
        </button>
      )}
    </>
  );
}

/** The take's joint that a joint of the figure plays. */
function nameOn({ take }: TakesRoomParts, shown: string | undefined): string | undefined {
  const mapping = take.take.onto?.mapping ?? {};
  return Object.entries(mapping).find(([, own]) => own === shown)?.[0];
}

/** The figure's joint that plays one of the take's. */
function onFigure({ take }: TakesRoomParts, captured: string): string {
  return take.take.onto?.mapping[captured] ?? captured;
}
