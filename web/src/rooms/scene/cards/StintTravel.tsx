import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import type { Edit, Scene } from '../useScene';
import { useStrands } from '../useStrands';
import type { CardProps } from './card';

interface StintTravelProps extends Pick<CardProps, 'desk' | 'onEdit'> {
  readonly scene: Scene;
  readonly drawn: Edit | null;
  readonly stint: Schemas['DeskStint'];
  readonly disabled: boolean;
}

const WIDTH = 236;
const HEIGHT = 52;
const STILL = 0.02;

/** How fast a stint goes over the ground, and its path at a pace of its own: a slide, a fall, a ride. */
export function StintTravel({ scene, drawn, desk, stint, disabled, onEdit }: StintTravelProps) {
  const strands = useStrands(scene, drawn, { isOpen: true, stint: stint.id });
  const third = (stint.end - stint.start) / 3;
  const [range, setRange] = useState<{ readonly start: number; readonly end: number } | null>(null);
  const [pace, setPace] = useState(0.5);
  const [ramp, setRamp] = useState(4);
  const [ends, setEnds] = useState<'stay' | 'less'>('stay');
  const speeds = strands?.speeds ?? [];
  const most = Math.max(...speeds, 0);
  // What never leaves its place has no travel to show.
  if (most < STILL) return null;
  const first = desk.first_frame;
  const shown = range ?? {
    start: Math.round(stint.start + third),
    end: Math.round(stint.end - third),
  };
  const x = (place: number) => (WIDTH * place) / Math.max(1, speeds.length - 1);
  const line = speeds.map((speed, place) => `${x(place)} ${y(speed, most)}`).join('L');
  return (
    <section aria-label="Its travel">
      <h3>
        Its travel <em>{stint.travel_is_straight ? 'with the body' : 'at a pace of its own'}</em>
      </h3>
      <svg
        className="speed-graph"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        role="img"
        aria-label={`How fast it goes over the ground, ${most.toFixed(2)} metres a second at the most`}
      >
        <rect
          x={x(shown.start - stint.start)}
          y="0"
          width={Math.max(0, x(shown.end - 1 - stint.start) - x(shown.start - stint.start))}
          height={HEIGHT}
        />
        <path d={`M0 ${y(0, most)}H${WIDTH}`} className="ground" />
        <path d={`M${line}`} />
        <text x="3" y="11">
          {most.toFixed(2)} m/s
        </text>
      </svg>
      {stint.travel_is_straight ? (
        <>
          <FieldLine name="Between">
            <span className="pair">
              <NumberBox
                label="First frame over which the travel is slowed"
                value={shown.start + first}
                disabled={disabled}
                onCommit={(value) => setRange({ ...shown, start: value - first })}
              />
              to
              <NumberBox
                label="Last frame over which the travel is slowed"
                value={shown.end - 1 + first}
                disabled={disabled}
                onCommit={(value) => setRange({ ...shown, end: value + 1 - first })}
              />
            </span>
          </FieldLine>
          <FieldLine name="Pace, ramps">
            <span className="pair">
              <NumberBox
                label="Pace of the travel in percent"
                value={pace * 100}
                unit="%"
                smallest={0}
                disabled={disabled}
                onCommit={(value) => setPace(value / 100)}
              />
              <NumberBox
                label="Frames of the ramps of the travel"
                value={ramp}
                unit="fr"
                smallest={0}
                disabled={disabled}
                onCommit={setRamp}
              />
            </span>
          </FieldLine>
          <Choice<'stay' | 'less'>
            label="Where the travel ends"
            value={ends}
            disabled={disabled}
            onChange={setEnds}
            options={[
              { value: 'stay', text: 'its ends stay', hint: 'The rest of the path goes faster' },
              { value: 'less', text: 'covers less', hint: 'It ends that much earlier on its path' },
            ]}
          />
          <button
            type="button"
            className="btn btn-paper"
            disabled={disabled}
            title="The path over the ground alone: the body goes on as it does"
            onClick={() =>
              onEdit({
                kind: 'slow_travel',
                stint: stint.id,
                start: shown.start,
                end: shown.end,
                pace,
                ramp_frames: ramp,
                keeps_ends: ends === 'stay',
              })
            }
          >
            Slow the travel
          </button>
        </>
      ) : (
        <button
          type="button"
          className="btn btn-paper"
          disabled={disabled}
          onClick={() => onEdit({ kind: 'straighten_travel', stint: stint.id })}
        >
          Straighten the travel
        </button>
      )}
    </section>
  );
}

const y = (speed: number, most: number) => HEIGHT - 4 - (speed / most) * (HEIGHT - 18);
