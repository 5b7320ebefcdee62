import type { Schemas } from '../../../api/client';
import { newId } from '../../../api/newId';
import { CardHead } from '../../../app/CardHead';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { NameField } from '../../../app/NameField';
import { removedKey } from '../../../desk/keyHands';
import { useFrame } from '../../../player/useFrame';
import type { Guiding } from '../useGuiding';
import type { CardProps } from './card';
import { HoldField, PlaceField, SpanField } from './KeyedFields';

interface GuideCardProps extends CardProps {
  readonly guide: Schemas['DeskGuide'];
  readonly chosen: number | null;
  readonly guiding: Guiding;
}

/** A guide: where it is at its keys, how it goes on between them, and whom it carries. */
export function GuideCard(props: GuideCardProps) {
  const { scene, desk, head, guide, chosen, guiding, onEdit, onSelect } = props;
  const locked = !scene.may_change;
  const first = desk.first_frame;
  const playhead = useFrame(head);
  const key = guide.keys.find(({ frame }) => frame === chosen);
  const set = (part: Partial<Pick<Schemas['KeyGuide'], 'place' | 'heading_degrees'>>) => {
    if (!key) return;
    const { frame, place, heading_degrees } = key;
    const stands = { frame, place, heading_degrees, by_hand: false };
    onEdit({ kind: 'key_guide', guide: guide.id, ...stands, ...part });
  };
  const others = desk.figures.filter(({ id }) => !guide.carries.includes(id));
  return (
    <aside className="side" aria-label={`Guide: ${guide.name}`}>
      <CardHead title={guide.name} onClose={() => onSelect(null)} />
      <div className="body">
        <NameField
          label="Name"
          value={guide.name}
          disabled={locked}
          onCommit={(name) => onEdit({ kind: 'set_guide', guide: guide.id, name })}
        />
        <p className="quiet">
          {locked
            ? 'A mark that carries figures. It is in no print.'
            : 'Draw its ring on the stage to move it, its arrow to turn it: that keys it at the playhead. It is in no print.'}
        </p>
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            title="A key at the playhead, where it is now"
            onClick={() => guiding.keyHere(guide.id)}
          >
            Key it at {playhead + first}
          </button>
        )}
        {key ? (
          <>
            <h3>
              Its key <em>at {Math.round(key.frame + first)}</em>
            </h3>
            <PlaceField
              name="Stands at"
              place={key.place}
              disabled={locked}
              onPlace={(place) => set({ place })}
            />
            <FieldLine name="Heads">
              <NumberBox
                label="Its heading in degrees; 360 more is once round"
                value={key.heading_degrees}
                decimals={1}
                unit="°"
                disabled={locked}
                onCommit={(heading_degrees) => set({ heading_degrees })}
              />
            </FieldLine>
            <SpanField
              span={key.span}
              disabled={locked}
              onSpan={(span) =>
                onEdit({ kind: 'set_guide_key', guide: guide.id, frame: key.frame, span })
              }
            />
            {!locked && guide.keys.length > 1 && (
              <button
                type="button"
                className="btn btn-paper"
                title="Delete, on the key"
                onClick={() => onEdit(removedKey(guide.id, key.frame))}
              >
                Delete the key
              </button>
            )}
          </>
        ) : (
          <p className="quiet">
            {guide.keys.length} {guide.keys.length === 1 ? 'key' : 'keys'}. Press one on the desk
            for its numbers.
          </p>
        )}
        <h3>Carries</h3>
        {guide.carries.length === 0 && <p className="quiet">No one yet.</p>}
        <ul className="plain-list">
          {desk.figures
            .filter(({ id }) => guide.carries.includes(id))
            .map((figure) => (
              <li key={figure.id}>
                <button
                  type="button"
                  className="link-button"
                  onClick={() => onSelect({ kind: 'figure', id: figure.id })}
                >
                  {figure.name}
                </button>
              </li>
            ))}
        </ul>
        {!locked && others.length > 0 && (
          <select
            className="form-select"
            aria-label={`Carry from ${playhead + first} on`}
            title="At the playhead nothing moves"
            value=""
            onChange={({ target }) =>
              onEdit({
                kind: 'attach_figure',
                attachment: newId(),
                figure: target.value,
                to: guide.id,
                joint: null,
                start: playhead,
                turns: true,
                keeps_offset: true,
              })
            }
          >
            <option value="">Carry from {playhead + first} on …</option>
            {others.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        )}
        <hr className="hairline" />
        <HoldField
          label="How long each of the guide’s places stays"
          exposure={guide.exposure}
          disabled={locked}
          onHold={(frames) => onEdit({ kind: 'set_guide', guide: guide.id, pattern: [frames] })}
        />
        <Tick
          label="Own time"
          hint="The scene’s elastic passes it by"
          checked={guide.keeps_own_time}
          disabled={locked}
          onChange={(keeps_own_time) =>
            onEdit({ kind: 'set_guide', guide: guide.id, keeps_own_time })
          }
        />
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onEdit({ kind: 'remove_guide', guide: guide.id })}
          >
            Take the guide away
          </button>
        )}
      </div>
    </aside>
  );
}
