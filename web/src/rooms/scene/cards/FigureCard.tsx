import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { FieldLine, NumberBox } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { Name } from '../../../app/Name';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import { FigurePicture } from '../../../stage/Filmstrip';
import { AddFixLane } from './AddFixLane';
import type { CardProps } from './card';
import { FigureLegs } from './FigureLegs';
import { FigureParts } from './FigureParts';
import { FigureRides } from './FigureRides';
import { FigureSize } from './FigureSize';
import { InkFields } from './InkFields';

const DEGREES = 180 / Math.PI;
const AXES = ['x', 'z', 'heading'] as const;
const AXIS_NAMES = { x: 'Across, x', z: 'Along, z', heading: 'Heading' };

/** The clips that a figure's stints play, each once. */
function clipsOf(lanes: readonly Schemas['DeskLane'][]): [string, string][] {
  const found = new Map<string, string>();
  for (const { source, clip_name } of lanes.flatMap((lane) => lane.stints))
    if (source.kind === 'clip') found.set(source.id, clip_name);
  return [...found];
}

/** A figure of the scene: its name, and the mark it starts from. */
export function FigureCard(props: CardProps & { figure: Schemas['SceneFigure'] }) {
  const { scene, desk, figure, onEdit, onSelect } = props;
  const locked = !scene.may_change;
  const lanes = desk.lanes.filter((lane) => lane.figure === figure.id);
  const mark = figure.mark ?? [0, 0, 0];
  const set = (place: number, value: number) => {
    const wanted = mark.map((old, k) => (k === place ? value : old)) as [number, number, number];
    onEdit({ kind: 'set_mark', figure: figure.id, mark: wanted });
  };
  return (
    <aside className="side" aria-label={`Figure: ${figure.name}`}>
      <CardHead title={figure.name} onClose={() => onSelect(null)} />
      <div className="body">
        <FigurePicture figure={figure.figure} label={`${figure.name} at rest`} />
        <NameField
          label="Name in this scene"
          value={figure.name}
          disabled={locked}
          onCommit={(name) => onEdit({ kind: 'rename_figure', figure: figure.id, name })}
        />
        <h3>Its mark: where it starts</h3>
        {AXES.map((axis, place) => (
          <FieldLine key={axis} name={AXIS_NAMES[axis]}>
            <NumberBox
              label={`Mark, ${axis}`}
              value={axis === 'heading' ? mark[place] * DEGREES : mark[place]}
              decimals={axis === 'heading' ? 1 : 2}
              unit={axis === 'heading' ? '°' : 'm'}
              disabled={locked}
              onCommit={(value) => set(place, axis === 'heading' ? value / DEGREES : value)}
            />
          </FieldLine>
        ))}
        <FigureSize
          desk={desk}
          head={props.head}
          figure={figure}
          disabled={locked}
          onEdit={onEdit}
        />
        <FigureParts
          scene={scene}
          desk={desk}
          head={props.head}
          figure={figure}
          disabled={locked}
          onEdit={onEdit}
        />
        <InkFields
          of={{ figure: figure.id }}
          ink={figure.ink}
          hint="Its outline strays, as if every drawing of it were traced anew"
          disabled={locked}
          onEdit={onEdit}
        />
        <FigureRides
          desk={desk}
          head={props.head}
          figure={figure}
          disabled={locked}
          onEdit={onEdit}
        />
        <p className="quiet">In Plan, draw the mark on the ground, or its arrow to turn it.</p>
        <h3>
          At rest <em>where nothing plays</em>
        </h3>
        <FieldLine name="Pose">
          <select
            className="form-select"
            aria-label="The pose that it rests in"
            disabled={locked}
            value={figure.rest?.clip ?? ''}
            onChange={({ target }) =>
              onEdit({ kind: 'set_rest', figure: figure.id, clip: target.value || null, frame: 0 })
            }
          >
            <option value="">its own rest pose</option>
            {clipsOf(lanes).map(([clip, name]) => (
              <option key={clip} value={clip}>
                of {name}
              </option>
            ))}
          </select>
        </FieldLine>
        {figure.rest && (
          <FieldLine name="Its frame">
            <NumberBox
              label="Frame of the clip whose pose it rests in"
              value={figure.rest.frame}
              decimals={2}
              disabled={locked}
              onCommit={(frame) =>
                onEdit({
                  kind: 'set_rest',
                  figure: figure.id,
                  clip: figure.rest?.clip ?? null,
                  frame,
                })
              }
            />
          </FieldLine>
        )}
        <FigureLegs figure={figure.figure} name={figure.name} disabled={locked} />
        <h3>Its lanes</h3>
        <ul className="plain-list">
          {lanes.map((lane) => (
            <li key={lane.id}>
              <button
                type="button"
                className="link-button"
                onClick={() => onSelect({ kind: 'lane', id: lane.id })}
              >
                <Name text={lane.name} />
              </button>
              <span className="quiet">
                {lane.fixes
                  ? counted(lane.fixes.length, 'fix', 'fixes')
                  : counted(lane.stints.length, 'stint')}
              </span>
            </li>
          ))}
        </ul>
        {!locked && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Another lane over this figure’s', 'addLane')}
              onClick={() => onEdit({ kind: 'add_lane', figure: figure.id })}
            >
              Add a lane
            </button>
            <AddFixLane figure={figure.id} onEdit={onEdit} />
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Take it out of the scene', 'remove')}
              onClick={() => onEdit({ kind: 'remove_figure', figure: figure.id })}
            >
              Take out
            </button>
          </div>
        )}
      </div>
    </aside>
  );
}
