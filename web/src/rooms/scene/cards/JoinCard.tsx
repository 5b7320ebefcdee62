import { useEffect, useMemo, useState } from 'react';
import type { Schemas } from '../../../api/client';
import { type JoinPlace, plantedText } from '../../../api/joins';
import { CardHead } from '../../../app/CardHead';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { frameText, JoinMapPicture } from '../join/JoinMapPicture';
import { JoinShape } from '../join/JoinShape';
import { LaidOn } from '../join/LaidOn';
import { ReadOuts } from '../join/ReadOuts';
import { type PairWanted, useJoinMap, useJoinReport } from '../join/useJoin';
import type { Edit, Scene } from '../useScene';
import type { CardProps } from './card';

const LISTED = 4;

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
  const { scene, standing, desk, lane, join, player, onEdit, onSelect, onPair } = props;
  const first = desk.first_frame;
  const stint = join.incoming;
  const named = (id: string) => lane.stints.find((other) => other.id === id);
  const outgoing = named(join.outgoing);
  const incoming = named(stint);
  const locked = !scene.may_change || lane.locked;
  const [whole, setWhole] = useState(false);
  const [seesBoth, setSeesBoth] = useState(false);
  const report = useJoinReport(scene, stint, props.drawn);
  const { map, problem } = useJoinMap(standing, stint, whole);
  const [looked, setLooked] = useState<JoinPlace | null>(null);
  const { plant = 'none' } = join.alignment;
  const shown = useMemo(() => {
    if (!map || !(seesBoth || looked)) return null;
    const { at, in_frame } = looked ?? map.now;
    return { stint, at, in_frame, planted: looked?.planted ?? plant };
  }, [seesBoth, map, looked, stint, plant]);
  useEffect(() => onPair(shown), [shown, onPair]);
  useEffect(() => () => onPair(null), [onPair]);
  const go = (frame: number) => {
    player.pause();
    player.goTo(frame);
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
  const playsOnce = !outgoing?.is_cycle || !incoming?.is_cycle;

  return (
    <aside className="side" aria-label="Join">
      <CardHead
        title={`Join: ${outgoing?.name ?? ''} to ${incoming?.name ?? ''}`}
        onClose={() => onSelect(null)}
      />
      <div className="body">
        {report && <ReadOuts report={report} firstFrame={first} onGo={go} />}
        <section aria-label="Where">
          <h3>
            Where <em>dark: the poses are alike</em>
          </h3>
          {problem && <p className="says is-warning">{problem.message}</p>}
          {map && (
            <>
              <JoinMapPicture
                map={map}
                outgoing={outgoing?.name ?? ''}
                incoming={incoming?.name ?? ''}
                firstFrame={first}
                disabled={locked}
                onLook={setLooked}
                onChoose={meet}
              />
              <ol className="join-places" aria-label="Best places to join">
                {map.best.slice(0, LISTED).map((place) => (
                  <li key={`${place.at} ${place.in_frame}`}>
                    <button
                      type="button"
                      disabled={locked}
                      aria-pressed={
                        place.at === map.now.at &&
                        Math.abs(place.in_frame - map.now.in_frame) < 0.01
                      }
                      onPointerEnter={() => setLooked(place)}
                      onPointerLeave={() => setLooked(null)}
                      onFocus={() => setLooked(place)}
                      onBlur={() => setLooked(null)}
                      onClick={() => meet(place)}
                    >
                      <span className="number">
                        {place.at + first} meets {frameText(place.in_frame)}
                      </span>
                      <span className="number">{place.score_cm.toFixed(1)} cm</span>
                      <small>{plantedText(place.planted)}</small>
                    </button>
                  </li>
                ))}
              </ol>
            </>
          )}
          <p className="button-line">
            <Tick
              label="Both poses"
              hint="Keep both poses on the stage, the outgoing one in blue and the incoming one in red; in Plan view the red one can be set down and turned"
              checked={seesBoth}
              onChange={setSeesBoth}
            />
            {playsOnce && (
              <Tick
                label="All of the clips"
                hint="Look at all of a clip that plays once, and not only at its end or its start"
                checked={whole}
                onChange={setWhole}
              />
            )}
          </p>
        </section>
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
        {join.steps !== null && (
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
        <JoinShape join={join} disabled={locked} onEdit={onEdit} />
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
