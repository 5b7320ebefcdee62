import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { FieldLine, IconButton, NumberBox } from '../../../app/controls';
import { withKey } from '../../../app/shortcuts';
import type { CardProps } from './card';

type Fix = Schemas['DeskFix'];
type Part = 'fade_in' | 'stands_frames' | 'fade_out';

interface FixCardProps extends CardProps {
  readonly lane: Schemas['DeskLane'];
  readonly fix: Fix;
}

/** A correction: when it stands, how it comes and goes, and which joints it turns. */
export function FixCard({ scene, desk, head, lane, fix, onEdit, onSelect }: FixCardProps) {
  const locked = !scene.may_change;
  const frame = fix.at + desk.first_frame;
  const set = (part: Part, frames: number) =>
    onEdit({ kind: 'set_fix', fix: fix.id, [part]: frames });
  const box = (part: Part, label: string, value: number) => (
    <NumberBox
      label={label}
      value={value}
      unit="fr"
      smallest={0}
      disabled={locked}
      onCommit={(frames) => set(part, frames)}
    />
  );
  return (
    <aside className="side" aria-label={`Fix at ${frame}`}>
      <CardHead title={`Fix at ${frame}`} onClose={() => onSelect(null)} />
      <div className="body">
        <FieldLine name="Stands at">
          <NumberBox
            label="Frame at which it shows whole"
            value={frame}
            disabled={locked}
            onCommit={(shown) =>
              onEdit({ kind: 'set_fix', fix: fix.id, at: shown - desk.first_frame })
            }
          />
        </FieldLine>
        <FieldLine name="Comes in over">
          {box('fade_in', 'Frames that the fix comes in over', fix.at - fix.start)}
        </FieldLine>
        <FieldLine name="Stands for">
          {box('stands_frames', 'Frames that the fix stands for', fix.stands_to - fix.at)}
        </FieldLine>
        <FieldLine name="Goes out over">
          {box('fade_out', 'Frames that the fix goes out over', fix.end - fix.stands_to)}
        </FieldLine>
        <h3>What it turns</h3>
        {fix.joints.length === 0 && <p className="quiet">No joint.</p>}
        <ul className="plain-list">
          {fix.joints.map((joint) => (
            <li key={joint.name}>
              <span>{joint.label}</span>
              <span className="number">{joint.degrees.toFixed(1)}°</span>
              {!locked && (
                <IconButton
                  icon="x"
                  label={`Let ${joint.label} go as it goes without the fix`}
                  onClick={() => onEdit({ kind: 'unfix_joint', fix: fix.id, joint: joint.name })}
                />
              )}
            </li>
          ))}
        </ul>
        {fix.shift_cm > 0.005 && (
          <FieldLine name="Moves the root">
            <span className="number">{fix.shift_cm.toFixed(1)} cm</span>
            {!locked && (
              <IconButton
                icon="x"
                label="Let the root go as it goes without the fix"
                onClick={() => onEdit({ kind: 'unfix_joint', fix: fix.id, joint: fix.root })}
              />
            )}
          </FieldLine>
        )}
        <button type="button" className="btn btn-paper" onClick={() => head.goTo(fix.at)}>
          Go there
        </button>
        <button
          type="button"
          className="btn btn-paper"
          onClick={() => onSelect({ kind: 'lane', id: lane.id })}
        >
          {lane.name}, the lane
        </button>
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            title={withKey('Delete', 'remove')}
            onClick={() => onEdit({ kind: 'remove_fix', fix: fix.id })}
          >
            Delete
          </button>
        )}
      </div>
    </aside>
  );
}
