import { useState } from 'react';
import { CardHead } from '../../../app/CardHead';
import { ColourChoice } from '../../../app/ColourChoice';
import { FieldLine, NumberBox } from '../../../app/controls';
import { Name } from '../../../app/Name';
import { withKey } from '../../../app/shortcuts';
import { allStints } from '../../../desk/selection';
import type { CardProps } from './card';
import { KeepGroup } from './KeepGroup';
import { duplicateOf } from './StintCard';

/** Several stints at once: moved, coloured, copied and deleted together. */
export function SeveralCard(props: CardProps & { ids: readonly string[] }) {
  const { scene, desk, ids, options, onEdit, onSelect } = props;
  const [frames, setFrames] = useState(0);
  const chosen = allStints(desk).filter((stint) => ids.includes(stint.id));
  const first = Math.min(...chosen.map((stint) => stint.start));
  const end = Math.max(...chosen.map((stint) => stint.end));
  const colours = new Set(chosen.map((stint) => stint.colour));
  const { ripple } = options;
  const stints = [...ids];
  return (
    <aside className="side" aria-label="Several stints">
      <CardHead title={`${ids.length} stints`} onClose={() => onSelect(null)} />
      <div className="body">
        <FieldLine name="In the scene">
          <span className="number">
            {first + desk.first_frame} to {end - 1 + desk.first_frame}
          </span>
        </FieldLine>
        {scene.may_change && (
          <>
            <FieldLine name="Move by">
              <NumberBox
                label="Move by frames"
                value={frames}
                unit="fr"
                onCommit={(by) => {
                  setFrames(0);
                  onEdit({ kind: 'move_stints', stints, frames: by, ripple });
                }}
              />
            </FieldLine>
            <ColourChoice
              label="Colour of the stints"
              value={colours.size === 1 ? chosen[0].colour : null}
              onChange={(colour) => onEdit({ kind: 'colour_stints', stints, colour })}
            />
            <KeepGroup
              scene={scene.id}
              stints={stints}
              disabled={!scene.may_change}
              onEdit={onEdit}
              onSelect={onSelect}
            />
            <div className="button-grid">
              <button
                type="button"
                className="btn btn-paper"
                title={withKey('Duplicate', 'duplicate')}
                onClick={() => onEdit(duplicateOf(ids, ripple))}
              >
                Duplicate
              </button>
              <button
                type="button"
                className="btn btn-paper"
                title={withKey('Delete', 'remove')}
                onClick={() => onEdit({ kind: 'delete_stints', stints, ripple })}
              >
                Delete
              </button>
            </div>
          </>
        )}
        <ul className="plain-list">
          {chosen.map((stint) => (
            <li key={stint.id}>
              <button
                type="button"
                className="link-button"
                onClick={() => onSelect({ kind: 'stints', ids: [stint.id] })}
              >
                <Name text={stint.name} />
              </button>
              <span className="quiet number">
                {stint.start + desk.first_frame}–{stint.end - 1 + desk.first_frame}
              </span>
            </li>
          ))}
        </ul>
      </div>
    </aside>
  );
}
