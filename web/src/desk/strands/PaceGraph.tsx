import type { KeyboardEvent, PointerEvent } from 'react';
import type { ElasticOf, StrandActions } from './actions';
import { type PaceAxis, paceLine, percent, type Rulers, type Strands } from './picture';

interface PaceGraphProps {
  readonly strands: Strands;
  readonly rulers: Rulers;
  readonly axis: PaceAxis;
  readonly of: ElasticOf;
  readonly mayChange: boolean;
  readonly actions: StrandActions;
}

const ROOM_FOR_WORDS = 64;

/** The pace in percent: levels are drawn up and down, a ramp’s end along. */
export function PaceGraph({ strands, rulers, axis, of, mayChange, actions }: PaceGraphProps) {
  const { line, area } = paceLine(strands, rulers, axis);
  const [left, right] = [rulers.played(strands.start), rulers.played(strands.end)];
  const bottom = axis.y(axis.least);
  return (
    <g className="pace">
      <path className="as-made" d={`M${left} ${axis.y(1)}H${right}`} />
      {axis.least < 0 && <path className="nothing" d={`M${left} ${axis.y(0)}H${right}`} />}
      <path className="area" d={area} />
      <path className="line" d={line} />
      {strands.pins.slice(0, -1).map((pin, place) => {
        const after = strands.pins[place + 1];
        const [x, end] = [rulers.played(pin.played), rulers.played(after.played)];
        return (
          <Level
            // biome-ignore lint/suspicious/noArrayIndexKey: a stretch is told by the pin before it
            key={place}
            strands={strands}
            place={place}
            x={x}
            end={end}
            y={axis.y(pin.pace_after)}
            top={axis.y(axis.most)}
            bottom={bottom}
            pixelsPerPace={axis.y(0) - axis.y(1)}
            of={of}
            mayChange={mayChange}
            actions={actions}
          />
        );
      })}
      {strands.pins.map((pin, place) => {
        const isCorner = cornerAt(strands, place);
        if (!isCorner || !mayChange) return null;
        return (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: a corner is its pin
            key={place}
            className="corner"
            cx={rulers.played(pin.played)}
            cy={axis.y(pin.pace_after)}
            r="3.6"
            onPointerDown={(event) => actions.grabCorner(event, of, strands, place)}
          >
            <title>The end of a ramp: draw it along</title>
          </circle>
        );
      })}
      {strands.odd
        .filter((odd) => odd.kind !== 'back' && odd.kind !== 'held')
        .map((odd) => (
          <OddSpot
            key={`${odd.kind} ${odd.start}`}
            x={rulers.played((odd.start + odd.end) / 2)}
            y={axis.y(axis.most) + 1}
            text={oddWords(odd.kind, odd.pace)}
            onGo={() => actions.goToPlayed(of, odd.start)}
          />
        ))}
    </g>
  );
}

/** Whether a ramp meets an even stretch at a pin: then its length can be drawn there. */
function cornerAt({ pins }: Strands, place: number): boolean {
  const [before, after] = [pins[place - 1]?.span, pins[place]?.span];
  if (place >= pins.length - 1) return false;
  return (before === 'ramped' && after === 'even') || (before === 'even' && after === 'ramped');
}

interface LevelProps {
  readonly strands: Strands;
  readonly place: number;
  readonly x: number;
  readonly end: number;
  readonly y: number;
  readonly top: number;
  readonly bottom: number;
  readonly pixelsPerPace: number;
  readonly of: ElasticOf;
  readonly mayChange: boolean;
  readonly actions: StrandActions;
}

const STEP = 0.05;

/** A stretch between two pins, at a pace that is drawn or stepped up and down. */
function Level(props: LevelProps) {
  const { strands, place, x, end, y, top, bottom, of, mayChange, actions } = props;
  const pin = strands.pins[place];
  const pace = pin.pace_after;
  const frames = strands.pins[place + 1].played - pin.played;
  const words =
    pin.span === 'held' || pace === 0
      ? 'held'
      : pace < 0
        ? `backwards ${percent(-pace)}`
        : percent(pace);
  const keys = (event: KeyboardEvent) => {
    const way = { ArrowUp: STEP, ArrowDown: -STEP }[event.key];
    if (event.key === 'Enter') actions.choosePin(of, place);
    else if (way && mayChange) actions.nudgeLevel(of, place, pace + way);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <g
      className="level"
      role="slider"
      tabIndex={0}
      aria-label={`Pace from pin ${place + 1} on`}
      aria-valuenow={Math.round(pace * 100)}
      aria-valuetext={words}
      data-level={place}
      onKeyDown={keys}
      onPointerDown={(event: PointerEvent) => {
        event.stopPropagation();
        if (event.button !== 0) return;
        if (mayChange) actions.grabLevel(event, of, strands, place, props.pixelsPerPace);
        else actions.choosePin(of, place);
      }}
    >
      <rect x={x} y={top} width={Math.max(0, end - x)} height={bottom - top} />
      {end - x > ROOM_FOR_WORDS && pin.span !== 'ramped' && (
        <text
          className={pin.span === 'held' ? 'is-held' : pace < 0 ? 'is-back' : ''}
          x={(x + end) / 2}
          y={y - 4 < top + 8 ? y + 12 : y - 4}
          textAnchor="middle"
        >
          {words}
          {end - x > 2 * ROOM_FOR_WORDS && ` for ${Math.round(frames * 10) / 10} fr`}
        </text>
      )}
      <title>{words}: draw it up or down</title>
    </g>
  );
}

interface OddSpotProps {
  readonly x: number;
  readonly y: number;
  readonly text: string;
  readonly onGo: () => void;
}

function OddSpot({ x, y, text, onGo }: OddSpotProps) {
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawn mark, with a button's role and keys
    <g
      className="odd-spot"
      role="button"
      tabIndex={0}
      aria-label={text}
      onPointerDown={(event) => {
        event.stopPropagation();
        onGo();
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        event.stopPropagation();
        onGo();
      }}
    >
      <path d={`M${x - 5} ${y}h10l-5 8z`} />
      <title>{text}</title>
    </g>
  );
}

type Odd = Strands['odd'][number];

/** An unusual spot in words. */
function oddWords(kind: Odd['kind'], pace: number): string {
  return {
    fast: `Very fast: ${percent(pace)}`,
    slow: `Hardly moves: ${percent(pace)}`,
    back: `Backwards, at ${percent(-pace)}`,
    held: 'Held',
    jump: 'It jumps on here, after a held stretch',
    out: 'Nothing of the clip is left here: it holds its last pose',
  }[kind];
}
