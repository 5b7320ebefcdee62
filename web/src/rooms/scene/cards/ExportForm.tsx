import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox } from '../../../app/controls';
import type { Scene } from '../useScene';

type Desk = Schemas['Desk'];

const EVERYONE = '';

/** The scene for other tools: its motion over a range, its sound, its timeline, and all of it as a file of ours. */
export function ExportForm({ scene, desk }: { scene: Scene; desk: Desk }) {
  const own = `/api/scenes/${scene.id}`;
  return (
    <>
      {desk.figures.length > 0 && <MotionOut own={own} desk={desk} />}
      <h3>Take the scene out</h3>
      <div className="d-flex flex-wrap gap-2">
        <Out
          href={`${own}/timeline`}
          hint="Lanes, stints, joins, beats and sounds, for editing tools"
        >
          As a timeline
        </Out>
        {desk.heard !== null && (
          <Out href={`${own}/wav`} hint="All that is heard, mixed">
            Its sound
          </Out>
        )}
        <Out href={`${own}/file`} hint="With all that it uses, to be brought in elsewhere">
          Scene as a file
        </Out>
      </div>
    </>
  );
}

/** A figure's motion over a range, or everybody's. */
function MotionOut({ own, desk }: { own: string; desk: Desk }) {
  const first = desk.first_frame;
  const last = first + desk.played_frames - 1;
  const [figure, setFigure] = useState<string | null>(null);
  const [range, setRange] = useState<{ start: number; end: number } | null>(null);
  const start = Math.max(first, range?.start ?? first);
  const end = Math.min(last, range?.end ?? last);
  const known = desk.figures.some(({ id }) => id === figure) ? figure : null;
  const chosen = figure === EVERYONE ? EVERYONE : (known ?? desk.figures[0].id);
  const query = new URLSearchParams({ start: String(start), end: String(end + 1) });
  if (chosen !== EVERYONE) query.set('figure', chosen);
  return (
    <>
      <h3>Take the motion out</h3>
      <select
        className="form-select"
        aria-label="Figure to take out"
        value={chosen}
        onChange={(event) => setFigure(event.target.value)}
      >
        {desk.figures.map((other) => (
          <option key={other.id} value={other.id}>
            {other.name}
          </option>
        ))}
        {desk.figures.length > 1 && <option value={EVERYONE}>Everybody</option>}
      </select>
      <FieldLine name="Frames">
        <span className="pair">
          <NumberBox
            label="First frame to take out"
            value={start}
            smallest={first}
            largest={end}
            onCommit={(value) => setRange({ start: value, end })}
          />
          to
          <NumberBox
            label="Last frame to take out"
            value={end}
            smallest={start}
            onCommit={(value) => setRange({ start, end: value })}
          />
        </span>
      </FieldLine>
      <div className="d-flex flex-wrap gap-2">
        <Out href={`${own}/bvh?${query}`} hint="A file for each figure, in metres">
          As BVH
        </Out>
        <Out href={`${own}/gltf?${query}`} hint="In its dress, a node for each joint, in metres">
          As glTF
        </Out>
        {chosen !== EVERYONE && (
          <Out
            href={`${own}/places?${query}`}
            hint="Where each joint is, frame by frame, in metres"
          >
            As a table
          </Out>
        )}
      </div>
    </>
  );
}

function Out(props: { readonly href: string; readonly hint: string; readonly children: string }) {
  return (
    <a className="btn btn-paper flex-fill" href={props.href} title={props.hint} download>
      {props.children}
    </a>
  );
}
