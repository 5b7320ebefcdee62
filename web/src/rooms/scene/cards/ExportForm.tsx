import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox } from '../../../app/controls';
import type { Scene } from '../useScene';

/** A figure's motion over a range, as a file that other tools read; and the scene as a file of ours. */
export function ExportForm({ scene, desk }: { scene: Scene; desk: Schemas['Desk'] }) {
  const first = desk.first_frame;
  const last = first + desk.played_frames - 1;
  const [figure, setFigure] = useState('');
  const [range, setRange] = useState<{ start: number; end: number } | null>(null);
  const start = Math.max(first, range?.start ?? first);
  const end = Math.min(last, range?.end ?? last);
  const known = desk.figures.find((other) => other.id === figure) ?? desk.figures[0];
  if (!known) return null;
  const query = new URLSearchParams({
    figure: known.id,
    start: String(start),
    end: String(end + 1),
  });
  return (
    <>
      <h3>Take the motion out</h3>
      <select
        className="form-select"
        aria-label="Figure to take out"
        value={known.id}
        onChange={(event) => setFigure(event.target.value)}
      >
        {desk.figures.map((other) => (
          <option key={other.id} value={other.id}>
            {other.name}
          </option>
        ))}
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
        <a
          className="btn btn-paper flex-fill"
          href={`/api/scenes/${scene.id}/bvh?${query}`}
          download
        >
          As BVH
        </a>
        <a
          className="btn btn-paper flex-fill"
          href={`/api/scenes/${scene.id}/gltf?${query}`}
          download
        >
          As glTF
        </a>
        {desk.heard !== null && (
          <a className="btn btn-paper flex-fill" href={`/api/scenes/${scene.id}/wav`} download>
            Its sound
          </a>
        )}
        <a className="btn btn-paper flex-fill" href={`/api/scenes/${scene.id}/file`} download>
          Scene as a file
        </a>
      </div>
    </>
  );
}
