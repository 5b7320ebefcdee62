import type { Schemas } from '../../../api/client';
import { ColourChoice } from '../../../app/ColourChoice';
import { NumberBox } from '../../../app/controls';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import { under } from '../../../desk/selection';
import { CardHead } from './CardHead';
import type { CardProps } from './SideCard';

/** A beat: its name, colour and range, and what can be done with the time it marks. */
export function BeatCard(props: CardProps & { beat: Schemas['Beat'] }) {
  const { scene, desk, player, beat, onEdit, onSelect } = props;
  const first = desk.first_frame;
  const locked = !scene.may_change;
  const covered = under(desk, beat.start, beat.end);
  const count = covered?.kind === 'stints' ? covered.ids.length : 0;
  return (
    <aside className="side" aria-label={`Beat: ${beat.name}`}>
      <CardHead title={beat.name} colour={beat.colour ?? null} onClose={() => onSelect(null)} />
      <div className="body">
        <NameField
          label="Name"
          value={beat.name}
          disabled={locked}
          onCommit={(name) => onEdit({ kind: 'set_beat', beat: beat.id, name })}
        />
        <ColourChoice
          label="Colour of the beat"
          value={beat.colour ?? null}
          disabled={locked}
          onChange={(colour) => onEdit({ kind: 'set_beat', beat: beat.id, colour })}
        />
        <div className="field-line">
          <span>Frames</span>
          <span className="pair">
            <NumberBox
              label="First frame of the beat"
              value={beat.start + first}
              smallest={first}
              disabled={locked}
              onCommit={(value) =>
                onEdit({ kind: 'set_beat', beat: beat.id, start: value - first })
              }
            />
            to
            <NumberBox
              label="Last frame of the beat"
              value={beat.end - 1 + first}
              smallest={first}
              disabled={locked}
              onCommit={(value) =>
                onEdit({ kind: 'set_beat', beat: beat.id, end: value + 1 - first })
              }
            />
          </span>
        </div>
        <div className="field-line">
          <span>Lasts</span>
          <span className="number">
            {((beat.end - beat.start) / desk.frames_per_second).toFixed(2)} s
          </span>
        </div>
        <button type="button" className="btn btn-paper" onClick={() => player.goTo(beat.start)}>
          Go there
        </button>
        <button
          type="button"
          className="btn btn-paper"
          title={withKey('Loop it', 'loopChosen')}
          onClick={() => player.setRange({ start: beat.start, end: beat.end })}
        >
          Loop it
        </button>
        <button
          type="button"
          className="btn btn-paper"
          title={withKey('Choose the stints that lie under it', 'under')}
          disabled={count === 0}
          onClick={() => onSelect(covered)}
        >
          Choose what lies under it, {count}
        </button>
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            title={withKey('Delete', 'remove')}
            onClick={() => onEdit({ kind: 'remove_beat', beat: beat.id })}
          >
            Delete
          </button>
        )}
      </div>
    </aside>
  );
}
