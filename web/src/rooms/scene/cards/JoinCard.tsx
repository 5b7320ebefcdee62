import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import { Name } from '../../../app/Name';
import type { CardProps } from './card';

const SHAPES = [
  { value: 'even', name: 'Even', line: 'M2 16L32 2' },
  { value: 'smooth', name: 'Smooth', line: 'M2 16C16 16 18 2 32 2' },
  { value: 'early', name: 'Early', line: 'M2 16C6 5 14 2 32 2' },
  { value: 'late', name: 'Late', line: 'M2 16C20 16 28 13 32 2' },
] as const;

/** How one stint hands over to the next. */
export function JoinCard(
  props: CardProps & { lane: Schemas['DeskLane']; join: Schemas['DeskJoin'] },
) {
  const { scene, desk, lane, join, onEdit, onSelect } = props;
  const first = desk.first_frame;
  const nameOf = (id: string) => lane.stints.find((stint) => stint.id === id)?.name ?? '';
  const locked = !scene.may_change || lane.locked;
  return (
    <aside className="side" aria-label="Join">
      <CardHead
        title={`Join: ${nameOf(join.outgoing)} to ${nameOf(join.incoming)}`}
        onClose={() => onSelect(null)}
      />
      <div className="body">
        <FieldLine name="Length">
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
        </FieldLine>
        <FieldLine name="Starts at">
          <NumberBox
            label="First frame of the join: moves the cut"
            value={join.start + first}
            disabled={locked}
            onCommit={(frame) =>
              onEdit({ kind: 'move_cut', stint: join.incoming, frame: frame - first })
            }
          />
        </FieldLine>
        <p className="quiet">
          Moving the cut trims one clip and lets the other begin earlier or later; every pose keeps
          its frame.
        </p>
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
                <Name text={name} />
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
          onClick={() => onSelect({ kind: 'stints', ids: [join.incoming] })}
        >
          {nameOf(join.incoming)}
        </button>
      </div>
    </aside>
  );
}
