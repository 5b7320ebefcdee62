import { counted } from '../../../app/counted';
import { BeatFields } from '../../../desk/BeatFields';
import { withBenchKey } from '../benchKeys';
import { countOf, under } from '../sheet';
import type { CardProps } from './card';

/** Beats of the clip: parts of the action to find again, and to choose all keys of. */
export function BeatsCard(props: CardProps) {
  const { clip, player, joints, beat: chosen, onBeat, onEdit, onKeys } = props;
  const { bench } = clip;
  const off = !clip.may_change;
  const beat = bench.beats.find((other) => other.id === chosen);
  return (
    <>
      {!bench.beats.length && (
        <p className="quiet">
          No beats yet. <kbd className="keycap">P</kbd> marks one at the playhead, or over the
          chosen keys: a part of the action to find again.
        </p>
      )}
      <ul className="beat-list">
        {bench.beats.map((row) => (
          <li key={row.id}>
            <button
              type="button"
              className="link-button"
              aria-pressed={row.id === chosen}
              onClick={() => {
                onBeat(row.id);
                player.goTo(row.start);
              }}
            >
              <i className="beat-mark" style={{ background: `var(--${row.colour})` }} /> {row.name}
            </button>
            <span className="quiet number">
              {row.start}–{row.end - 1}
            </span>
          </li>
        ))}
      </ul>
      {beat && (
        <div className="beat-card">
          <BeatFields beat={beat} firstFrame={0} disabled={off} onEdit={onEdit} />
          <div className="close-line">
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => player.setRange({ start: beat.start, end: beat.end })}
              disabled={beat.end > bench.length_frames}
            >
              Loop it
            </button>
            {!off && (
              <button
                type="button"
                className="btn btn-paper"
                onClick={() => onEdit({ kind: 'remove_beat', beat: beat.id })}
              >
                Delete
              </button>
            )}
            <button
              type="button"
              className="btn btn-lamp"
              title={withBenchKey('Choose the keys that lie under it', 'under')}
              onClick={() => onKeys(under(bench, joints, beat))}
            >
              Choose {counted(countOf(under(bench, joints, beat)), 'key')} under it
            </button>
          </div>
        </div>
      )}
    </>
  );
}
