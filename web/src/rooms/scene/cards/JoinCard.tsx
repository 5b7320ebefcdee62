import type { Schemas } from '../../../api/client';
import type { JoinPlace } from '../../../api/joins';
import { CardHead } from '../../../app/CardHead';
import { FieldLine, NumberBox } from '../../../app/controls';
import { JoinShape } from '../join/JoinShape';
import { LaidOn } from '../join/LaidOn';
import { ReadOuts } from '../join/ReadOuts';
import { type PairWanted, useJoinReport } from '../join/useJoin';
import { WhereToJoin } from '../join/WhereToJoin';
import type { Edit, Scene } from '../useScene';
import type { CardProps } from './card';

export interface JoinCardProps extends CardProps {
  readonly lane: Schemas['DeskLane'];
  readonly join: Schemas['DeskJoin'];
  /** The scene without what is being drawn, and that. */
  readonly standing: Scene;
  readonly drawn: Edit | null;
  /** See both poses of a place to join on the stage. */
  readonly onPair: (wanted: PairWanted | null) => void;
}

/** How one stint hands over to the next: where, how laid, and what that does. */
export function JoinCard(props: JoinCardProps) {
  const { scene, standing, desk, lane, join, head, onEdit, onSelect, onPair } = props;
  const first = desk.first_frame;
  const stint = join.incoming;
  const named = (id: string) => lane.stints.find((other) => other.id === id);
  const outgoing = named(join.outgoing);
  const incoming = named(stint);
  const locked = !scene.may_change || lane.locked;
  const report = useJoinReport(scene, stint, props.drawn);
  const isCut = join.start === join.end;
  const go = (frame: number) => {
    head.pause();
    head.goTo(frame);
  };
  const meet = (place: JoinPlace) => {
    onEdit({
      kind: 'meet_stint',
      stint,
      at: place.at,
      in_frame: place.in_frame,
      plant: place.planted,
    });
    go(place.at);
  };
  return (
    <aside className="side" aria-label="Join">
      <CardHead
        title={`${isCut ? 'Cut' : 'Join'}: ${outgoing?.name ?? ''} to ${incoming?.name ?? ''}`}
        onClose={() => onSelect(null)}
      />
      <div className="body">
        {report && <ReadOuts report={report} firstFrame={first} onGo={go} />}
        <WhereToJoin
          standing={standing}
          join={join}
          outgoing={outgoing}
          incoming={incoming}
          firstFrame={first}
          disabled={locked}
          onPair={onPair}
          onMeet={meet}
        />
        <hr className="hairline" />
        <FieldLine name="Length">
          <NumberBox
            label="Length of the join in frames"
            value={join.end - join.start}
            unit="fr"
            smallest={0}
            disabled={locked}
            onCommit={(length_frames) => onEdit({ kind: 'set_join', stint, length_frames })}
          />
        </FieldLine>
        {join.steps !== null && !isCut && (
          <FieldLine name="Over steps">
            <NumberBox
              label="Steps that the join lasts: both step together, and their paces meet"
              value={join.steps}
              decimals={1}
              unit="steps"
              smallest={1}
              largest={16}
              disabled={locked}
              onCommit={(steps) =>
                onEdit({ kind: 'match_steps', stint, steps: Math.max(1, Math.round(steps)) })
              }
            />
            <button
              type="button"
              className="btn btn-paper btn-small"
              disabled={locked}
              title="Both cycles step together through the join, and the pace of one becomes the other’s"
              onClick={() =>
                onEdit({
                  kind: 'match_steps',
                  stint,
                  steps: Math.max(1, Math.round(join.steps ?? 1)),
                })
              }
            >
              In step
            </button>
          </FieldLine>
        )}
        <FieldLine name="Starts at">
          <NumberBox
            label="First frame of the join: moves the cut"
            value={join.start + first}
            disabled={locked}
            onCommit={(frame) => onEdit({ kind: 'move_cut', stint, frame: frame - first })}
          />
        </FieldLine>
        {!isCut && <JoinShape join={join} disabled={locked} onEdit={onEdit} />}
        <hr className="hairline" />
        <LaidOn
          join={join}
          isNailed={incoming?.nailed ?? false}
          incoming={incoming?.name ?? ''}
          disabled={locked}
          onEdit={onEdit}
        />
        <button
          type="button"
          className="btn btn-paper"
          onClick={() => onSelect({ kind: 'stints', ids: [stint] })}
        >
          {incoming?.name ?? ''}
        </button>
      </div>
    </aside>
  );
}
