import type { TakesRoomParts } from '../room';

/** What every joint lost, the most first: pressing one goes there. */
export function LostCard({ room }: { readonly room: TakesRoomParts }) {
  const losses = room.cleaned?.losses ?? [];
  const most = Math.max(...losses.map((row) => row.degrees), 1e-6);
  return (
    <>
      <h2>What every joint lost</h2>
      <ul className="loss-list">
        {losses.map((row) => (
          <li key={row.joint}>
            <button
              type="button"
              title="Go to where it changed most"
              onClick={() => room.goTo(row.degrees_frame, row.joint)}
            >
              <span className="name">{row.label}</span>
              <i className="bar is-after" style={{ width: `${(60 * row.degrees) / most}px` }} />
              <span className="number">
                {row.degrees.toFixed(1)}° {row.cm.toFixed(1)} cm
              </span>
              <span className="number quiet">{row.degrees_frame}</span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
