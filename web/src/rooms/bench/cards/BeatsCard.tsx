import { ColourChoice } from '../../../app/ColourChoice';
import { IconButton, NumberBox } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { NameField } from '../../../app/NameField';
import { withBenchKey } from '../benchKeys';
import { countOf, under } from '../sheet';
import type { CardProps } from './SideCards';

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
          <NameField
            label="Name"
            value={beat.name}
            disabled={off}
            onCommit={(name) => onEdit({ kind: 'set_beat', beat: beat.id, name })}
          />
          <ColourChoice
            label="Colour of the beat"
            value={beat.colour ?? null}
            disabled={off}
            onChange={(colour) => onEdit({ kind: 'set_beat', beat: beat.id, colour })}
          />
          <div className="field-line">
            <span>Frames</span>
            <span className="pair">
              <NumberBox
                label="First frame of the beat"
                value={beat.start}
                disabled={off}
                onCommit={(start) => onEdit({ kind: 'set_beat', beat: beat.id, start })}
              />
              to
              <NumberBox
                label="Last frame of the beat"
                value={beat.end - 1}
                disabled={off}
                onCommit={(last) => onEdit({ kind: 'set_beat', beat: beat.id, end: last + 1 })}
              />
              {!off && (
                <IconButton
                  icon="x"
                  label={`Delete the beat ${beat.name}`}
                  onClick={() => onEdit({ kind: 'remove_beat', beat: beat.id })}
                />
              )}
            </span>
          </div>
          <div className="close-line">
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => player.setRange({ start: beat.start, end: beat.end })}
              disabled={beat.end > bench.length_frames}
            >
              Loop it
            </button>
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
