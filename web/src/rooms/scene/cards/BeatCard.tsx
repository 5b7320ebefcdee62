import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { FieldLine } from '../../../app/controls';
import { withKey } from '../../../app/shortcuts';
import { BeatFields } from '../../../desk/BeatFields';
import { under } from '../../../desk/selection';
import type { CardProps } from './card';

/** A beat: its name, colour and range, and what can be done with the time it marks. */
export function BeatCard(props: CardProps & { beat: Schemas['Beat']; onSlow: () => void }) {
  const { scene, desk, head, beat, onEdit, onSelect } = props;
  const first = desk.first_frame;
  const locked = !scene.may_change;
  const covered = under(desk, beat.start, beat.end);
  const count = covered?.kind === 'stints' ? covered.ids.length : 0;
  return (
    <aside className="side" aria-label={`Beat: ${beat.name}`}>
      <CardHead title={beat.name} colour={beat.colour ?? null} onClose={() => onSelect(null)} />
      <div className="body">
        <BeatFields beat={beat} firstFrame={first} disabled={locked} onEdit={onEdit} />
        <FieldLine name="Lasts">
          <span className="number">
            {((beat.end - beat.start) / desk.frames_per_second).toFixed(2)} s
          </span>
        </FieldLine>
        <button type="button" className="btn btn-paper" onClick={() => head.goTo(beat.start)}>
          Go there
        </button>
        <button
          type="button"
          className="btn btn-paper"
          title={withKey('Loop it', 'loopChosen')}
          onClick={() => head.setRange({ start: beat.start, end: beat.end })}
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
            title={withKey('Slow or hurry the whole scene under it', 'slow')}
            onClick={props.onSlow}
          >
            Slow this
          </button>
        )}
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
