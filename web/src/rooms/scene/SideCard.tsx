import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { Choice, IconButton, NumberBox } from '../../app/controls';
import type { Selection } from '../../desk/LaneRow';
import { newId } from './newId';
import type { Edit, Scene } from './useScene';

type Desk = Schemas['Desk'];
type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];
type Join = Schemas['DeskJoin'];

interface SideCardProps {
  readonly scene: Scene;
  /** The desk as it is shown: during a drag, as it would be. */
  readonly desk: Desk;
  readonly selection: Selection | null;
  readonly playhead: () => number;
  readonly onEdit: (edit: Edit) => void;
  readonly onSelect: (selection: Selection | null) => void;
}

/** The card of what is chosen: a stint, a join, or the scene itself. */
export function SideCard(props: SideCardProps) {
  const { scene, desk, selection } = props;
  for (const lane of desk.lanes) {
    if (selection?.kind === 'stint') {
      const stint = lane.stints.find((other) => other.id === selection.id);
      if (stint) return <StintCard {...props} lane={lane} stint={stint} />;
    }
    if (selection?.kind === 'join') {
      const join = lane.joins.find((other) => other.incoming === selection.incoming);
      if (join) return <JoinCard {...props} lane={lane} join={join} />;
    }
  }
  return <SceneCard key={scene.id} {...props} />;
}

interface HeadProps {
  readonly title: string;
  readonly colour?: string;
  readonly onClose?: () => void;
}

function Head({ title, colour, onClose }: HeadProps) {
  return (
    <div className="sheet-head">
      {colour && (
        <svg width="20" height="14" aria-hidden="true">
          <rect
            x=".5"
            y=".5"
            width="19"
            height="13"
            fill={`url(#pencil-${colour})`}
            stroke={`var(--${colour})`}
          />
        </svg>
      )}
      <h2 className="text-truncate">{title}</h2>
      <span className="grow" />
      {onClose && <IconButton icon="x-lg" label="Back to the scene’s card" onClick={onClose} />}
    </div>
  );
}

function StintCard(props: SideCardProps & { lane: Lane; stint: Stint }) {
  const { scene, desk, stint, lane, playhead, onEdit, onSelect } = props;
  const first = desk.first_frame;
  const locked = !scene.may_change;
  const trim = (edge: 'start' | 'end', frame: number) =>
    onEdit({ kind: 'trim_stint', stint: stint.id, edge, frame });
  const into = lane.joins.find((join) => join.incoming === stint.id);
  return (
    <aside className="side" aria-label={`Stint: ${stint.name}`}>
      <Head title={stint.name} colour={stint.colour} onClose={() => onSelect(null)} />
      <div className="body">
        <h3>In the scene</h3>
        <div className="field-line">
          <span>Starts at</span>
          <NumberBox
            label="Starts at frame"
            value={stint.start + first}
            disabled={locked}
            onCommit={(frame) =>
              onEdit({ kind: 'move_stint', stint: stint.id, start: frame - first })
            }
          />
        </div>
        <div className="field-line">
          <span>First and last frame</span>
          <span className="pair">
            <NumberBox
              label="First frame, trimmed"
              value={stint.start + first}
              disabled={locked}
              onCommit={(frame) => trim('start', frame - first)}
            />
            to
            <NumberBox
              label="Last frame, trimmed"
              value={stint.end - 1 + first}
              disabled={locked}
              onCommit={(frame) => trim('end', frame + 1 - first)}
            />
          </span>
        </div>
        <h3>Of the clip</h3>
        <div className="field-line">
          <span>Plays its frames</span>
          <span className="number">
            {sourceText(stint.source_start)} to {sourceText(stint.source_end)}
          </span>
        </div>
        {stint.cycles !== null && (
          <div className="field-line">
            <span>Rounds of {stint.clip_length_frames} fr</span>
            <NumberBox
              label="Rounds"
              value={stint.cycles}
              decimals={3}
              smallest={0.01}
              disabled={locked}
              onCommit={(cycles) => onEdit({ kind: 'repeat_stint', stint: stint.id, cycles })}
            />
          </div>
        )}
        <h3>Pace</h3>
        <div className="field-line">
          <span>As made is 100 %</span>
          <NumberBox
            label="Pace in percent"
            value={stint.pace * 100}
            decimals={1}
            unit="%"
            smallest={1}
            disabled={locked}
            onCommit={(percent) =>
              onEdit({ kind: 'pace_stint', stint: stint.id, pace: percent / 100 })
            }
          />
        </div>
        <div className="field-line">
          <span>Frames played</span>
          <NumberBox
            label="Frames played, stretched"
            value={stint.end - stint.start}
            smallest={1}
            disabled={locked}
            onCommit={(length_frames) =>
              onEdit({ kind: 'stretch_stint', stint: stint.id, length_frames })
            }
          />
        </div>
        {into && (
          <>
            <hr className="hairline" />
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => onSelect({ kind: 'join', incoming: stint.id })}
            >
              Its join, {Math.round(into.end - into.start)} frames
            </button>
          </>
        )}
        {!locked && (
          <>
            <hr className="hairline" />
            <div className="d-flex gap-2">
              <button
                type="button"
                className="btn btn-paper flex-fill"
                title="Split at the playhead (/)"
                onClick={() => onEdit(splitAt(stint, playhead()))}
              >
                Split at playhead
              </button>
              <button
                type="button"
                className="btn btn-paper"
                title="Delete (Del)"
                onClick={() => onEdit({ kind: 'delete_stint', stint: stint.id })}
              >
                Delete
              </button>
            </div>
          </>
        )}
      </div>
    </aside>
  );
}

export function splitAt(stint: { readonly id: string }, frame: number): Edit {
  return { kind: 'split_stint', stint: stint.id, frame, new_stint: newId() };
}

const sourceText = (frame: number): string => Number(frame.toFixed(2)).toString();

const SHAPES = [
  { value: 'even', name: 'Even', line: 'M2 16L32 2' },
  { value: 'smooth', name: 'Smooth', line: 'M2 16C16 16 18 2 32 2' },
  { value: 'early', name: 'Early', line: 'M2 16C6 5 14 2 32 2' },
  { value: 'late', name: 'Late', line: 'M2 16C20 16 28 13 32 2' },
] as const;

function JoinCard(props: SideCardProps & { lane: Lane; join: Join }) {
  const { scene, desk, lane, join, onEdit, onSelect } = props;
  const first = desk.first_frame;
  const nameOf = (id: string) => lane.stints.find((stint) => stint.id === id)?.name ?? '';
  const locked = !scene.may_change;
  return (
    <aside className="side" aria-label="Join">
      <Head
        title={`Join: ${nameOf(join.outgoing)} to ${nameOf(join.incoming)}`}
        onClose={() => onSelect(null)}
      />
      <div className="body">
        <div className="field-line">
          <span>Length</span>
          <NumberBox
            label="Length of the join in frames"
            value={join.end - join.start}
            unit="fr"
            smallest={0}
            disabled={locked}
            onCommit={(length_frames) =>
              onEdit({ kind: 'set_join', stint: join.incoming, length_frames })
            }
          />
        </div>
        <div className="field-line">
          <span>In the scene</span>
          <span className="number">
            {join.start + first} to {join.end - 1 + first}
          </span>
        </div>
        <h3>Shape</h3>
        <Choice
          label="Shape of the join"
          className="shape-choice"
          disabled={locked}
          value={join.shape}
          onChange={(shape) => onEdit({ kind: 'set_join', stint: join.incoming, shape })}
          options={SHAPES.map(({ value, name, line }) => ({
            value,
            text: (
              <>
                <svg viewBox="0 0 34 18" aria-hidden="true">
                  <path d={line} />
                </svg>
                {name}
              </>
            ),
          }))}
        />
        <hr className="hairline" />
        <p className="quiet">
          {nameOf(join.incoming)} takes over position and heading from {nameOf(join.outgoing)} in
          the middle of the join.
        </p>
        <button
          type="button"
          className="btn btn-paper"
          onClick={() => onSelect({ kind: 'stint', id: join.incoming })}
        >
          {nameOf(join.incoming)}
        </button>
      </div>
    </aside>
  );
}

function SceneCard({ scene, desk, onEdit }: SideCardProps) {
  const locked = !scene.may_change;
  const [name, setName] = useState<string | null>(null);
  const rename = () => {
    if (name?.trim() && name.trim() !== scene.name)
      onEdit({ kind: 'rename_scene', name: name.trim() });
    setName(null);
  };
  return (
    <aside className="side" aria-label="Scene">
      <Head title="Scene" />
      <div className="body">
        <div>
          <label className="form-label" htmlFor="scene-name">
            Name
          </label>
          <input
            id="scene-name"
            className="form-control"
            value={name ?? scene.name}
            maxLength={120}
            disabled={locked}
            onChange={(event) => setName(event.target.value)}
            onBlur={rename}
            onKeyDown={(event) => {
              if (event.key === 'Enter') rename();
              if (event.key === 'Escape') setName(null);
            }}
          />
        </div>
        <div className="field-line">
          <span>Length</span>
          <NumberBox
            label="Length of the scene in frames"
            value={desk.length_frames}
            unit="fr"
            smallest={1}
            disabled={locked}
            onCommit={(length_frames) => onEdit({ kind: 'set_length', length_frames })}
          />
        </div>
        <div className="field-line">
          <span>Lasts</span>
          <span className="number">
            {(desk.length_frames / desk.frames_per_second).toFixed(2)} s at {desk.rate} fps
          </span>
        </div>
        <h3>Figures</h3>
        {desk.lanes.length === 0 && (
          <p className="quiet">None yet. Draw a clip down to the desk.</p>
        )}
        {desk.lanes.map((lane) => (
          <FigureLine key={lane.id} lane={lane} locked={locked} onEdit={onEdit} />
        ))}
        {desk.lanes.length > 0 && (
          <>
            <hr className="hairline" />
            <ExportForm scene={scene} desk={desk} />
          </>
        )}
      </div>
    </aside>
  );
}

interface FigureLineProps {
  readonly lane: Lane;
  readonly locked: boolean;
  readonly onEdit: (edit: Edit) => void;
}

function FigureLine({ lane, locked, onEdit }: FigureLineProps) {
  return (
    <div>
      <div className="field-line">
        <span>{lane.figure_name}</span>
        {!locked && (
          <IconButton
            icon="trash3"
            label={`Take ${lane.figure_name} out of the scene`}
            onClick={() => onEdit({ kind: 'remove_figure', figure: lane.figure })}
          />
        )}
      </div>
      <div className="field-line">
        <span className="quiet">In gaps</span>
        <Choice
          label={`In gaps ${lane.figure_name}`}
          value={lane.gap}
          disabled={locked}
          onChange={(gap) => onEdit({ kind: 'set_gap', lane: lane.id, gap })}
          options={[
            { value: 'rest', text: 'rests' },
            { value: 'hold', text: 'holds' },
            { value: 'wait', text: 'waits' },
          ]}
        />
      </div>
    </div>
  );
}

/** A figure's motion over a range, as a file that other tools read. */
function ExportForm({ scene, desk }: { scene: Scene; desk: Desk }) {
  const first = desk.first_frame;
  const last = first + desk.length_frames - 1;
  const [figure, setFigure] = useState(desk.lanes[0]?.figure ?? '');
  const [range, setRange] = useState<{ start: number; end: number } | null>(null);
  const start = Math.max(first, range?.start ?? first);
  const end = Math.min(last, range?.end ?? last);
  const chosen = desk.lanes.some((lane) => lane.figure === figure)
    ? figure
    : (desk.lanes[0]?.figure ?? '');
  const query = new URLSearchParams({
    figure: chosen,
    start: String(start),
    end: String(end + 1),
  });
  return (
    <>
      <h3>Take the motion out</h3>
      <select
        className="form-select"
        aria-label="Figure to take out"
        value={chosen}
        onChange={(event) => setFigure(event.target.value)}
      >
        {desk.lanes.map((lane) => (
          <option key={lane.id} value={lane.figure}>
            {lane.figure_name}
          </option>
        ))}
      </select>
      <div className="field-line">
        <span>Frames</span>
        <span className="pair">
          <NumberBox
            label="First frame to take out"
            value={start}
            smallest={first}
            onCommit={(value) => setRange({ start: Math.min(value, end), end })}
          />
          to
          <NumberBox
            label="Last frame to take out"
            value={end}
            smallest={first}
            onCommit={(value) => setRange({ start, end: Math.max(value, start) })}
          />
        </span>
      </div>
      <div className="d-flex gap-2">
        <a
          className="btn btn-paper flex-fill"
          href={`/api/scenes/${scene.id}/bvh?${query}`}
          download
        >
          As BVH
        </a>
        <a className="btn btn-paper flex-fill" href={`/api/scenes/${scene.id}/file`} download>
          Scene as a file
        </a>
      </div>
    </>
  );
}
