import { IconButton, NumberBox, Tick } from '../../../app/controls';
import type { CardProps } from './card';

/** Contacts: their frames, their slide, and whether the feet are held. */
export function FeetCard({ clip, joints, player, onEdit, onJoints }: CardProps) {
  const { bench } = clip;
  const foot = bench.joints.find((joint) => joints[0] === joint.name);
  const allHeld = bench.plants.length > 0 && bench.plants.every((plant) => plant.held);
  return (
    <>
      {!bench.plants.length && (
        <p className="quiet">
          No contacts yet. Find them, or plant the chosen foot at the playhead.
        </p>
      )}
      <ul className="plant-list">
        {bench.plants.map((plant) => (
          <li key={plant.place}>
            <button
              type="button"
              className="link-button"
              onClick={() => {
                onJoints([plant.joint]);
                player.goTo(Math.floor(plant.start) % bench.length_frames);
              }}
            >
              <i className={`side-mark is-${plant.side}`} /> {plant.label}
            </button>
            <span className="pair">
              <NumberBox
                label={`${plant.label} stands from`}
                value={plant.start}
                disabled={!clip.may_change}
                onCommit={(start) =>
                  onEdit({
                    kind: 'set_plant',
                    place: plant.place,
                    start,
                    end: plant.end,
                    joint: null,
                  })
                }
              />
              to
              <NumberBox
                label={`${plant.label} stands to`}
                value={plant.end}
                disabled={!clip.may_change}
                onCommit={(end) =>
                  onEdit({
                    kind: 'set_plant',
                    place: plant.place,
                    start: plant.start,
                    end,
                    joint: null,
                  })
                }
              />
            </span>
            <span className={`number slide ${plant.slide_cm > 0.5 ? 'is-far' : ''}`}>
              {plant.slide_cm.toFixed(2)} cm
            </span>
            <Tick
              label="held"
              hint="Keep this foot where it stands"
              checked={plant.held}
              disabled={!clip.may_change}
              onChange={(held) => onEdit({ kind: 'hold_feet', held, places: [plant.place] })}
            />
            {clip.may_change && (
              <IconButton
                icon="x"
                label={`Take out the contact of ${plant.label}`}
                onClick={() => onEdit({ kind: 'remove_plant', place: plant.place })}
              />
            )}
          </li>
        ))}
      </ul>
      {clip.may_change && (
        <div className="close-line">
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onEdit({ kind: 'find_contacts' })}
          >
            Find contacts
          </button>
          {foot && (
            <button
              type="button"
              className="btn btn-paper"
              onClick={() =>
                onEdit({
                  kind: 'set_plant',
                  place: bench.plants.length,
                  joint: foot.name,
                  start: player.frame,
                  end: null,
                })
              }
            >
              Plant {foot.label.toLowerCase()}
            </button>
          )}
          {bench.plants.length > 0 && (
            <button
              type="button"
              className="btn btn-lamp"
              onClick={() => onEdit({ kind: 'hold_feet', held: !allHeld, places: null })}
            >
              {allHeld ? 'Let all feet go' : 'Hold all feet'}
            </button>
          )}
        </div>
      )}
    </>
  );
}
