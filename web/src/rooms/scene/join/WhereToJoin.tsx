import { useEffect, useMemo, useState } from 'react';
import type { Schemas } from '../../../api/client';
import { type JoinPlace, plantedText } from '../../../api/joins';
import { Tick } from '../../../app/controls';
import type { Scene } from '../useScene';
import { frameText, JoinMapPicture } from './JoinMapPicture';
import { type PairWanted, useJoinMap } from './useJoin';

const LISTED = 4;

type Stint = Schemas['DeskStint'];

interface WhereToJoinProps {
  readonly standing: Scene;
  readonly join: Schemas['DeskJoin'];
  readonly outgoing: Stint | undefined;
  readonly incoming: Stint | undefined;
  readonly firstFrame: number;
  readonly disabled: boolean;
  /** See both poses of a place to join on the stage. */
  readonly onPair: (wanted: PairWanted | null) => void;
  readonly onMeet: (place: JoinPlace) => void;
}

/** Where two stints could meet: the map of all pairs of frames, and the best places of it. */
export function WhereToJoin(props: WhereToJoinProps) {
  const { standing, join, outgoing, incoming, firstFrame, disabled, onPair, onMeet } = props;
  const stint = join.incoming;
  const [whole, setWhole] = useState(false);
  const [seesBoth, setSeesBoth] = useState(false);
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
  const playsOnce = !outgoing?.is_cycle || !incoming?.is_cycle;
  return (
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
            firstFrame={firstFrame}
            disabled={disabled}
            onLook={setLooked}
            onChoose={onMeet}
          />
          <ol className="join-places" aria-label="Best places to join">
            {map.best.slice(0, LISTED).map((place) => (
              <li key={`${place.at} ${place.in_frame}`}>
                <button
                  type="button"
                  disabled={disabled}
                  aria-pressed={
                    place.at === map.now.at && Math.abs(place.in_frame - map.now.in_frame) < 0.01
                  }
                  onPointerEnter={() => setLooked(place)}
                  onPointerLeave={() => setLooked(null)}
                  onFocus={() => setLooked(place)}
                  onBlur={() => setLooked(null)}
                  onClick={() => onMeet(place)}
                >
                  <span className="number">
                    {place.at + firstFrame} meets {frameText(place.in_frame)}
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
  );
}
