import { type KeyboardEvent, type PointerEvent, useMemo, useState } from 'react';
import type { Schemas } from '../../api/client';
import type { LaidHead } from '../../player/laidHead';
import { LABEL_WIDTH, type Scale, xOf } from '../scale';
import type { ElasticOf, StrandActions } from './actions';
import { Needle } from './Needle';
import { PaceGraph } from './PaceGraph';
import {
  numbersOf,
  PACE,
  paceAxis,
  RULER,
  type Rulers,
  rulersOf,
  type Strands,
  sourceAt,
  stripHeight,
  THREADS,
  thread,
  threadNear,
  threadsOf,
} from './picture';

interface StrandsStripProps {
  readonly strands: Strands;
  readonly scale: Scale;
  readonly of: ElasticOf;
  readonly name: string;
  readonly colour: string;
  /** What the rulers show for frame 0. */
  readonly firstPlayed: number;
  readonly firstSource: number;
  readonly chosenPin: number | null;
  readonly head: LaidHead;
  readonly mayChange: boolean;
  readonly actions: StrandActions;
  /** The drawings of a run, from which frame each of them shows. */
  readonly exposed?: readonly Schemas['DeskDrawing'][];
  /** What the rulers are of: laid frames over those of the source. */
  readonly words?: readonly [string, string];
}

/** Strands: two rulers, the pace, and a thread for each source frame between them. */
export function StrandsStrip(props: StrandsStripProps) {
  const { strands, scale, of, name, head, mayChange, actions } = props;
  const isScene = of === null;
  const height = stripHeight(isScene);
  const paceTop = isScene ? 3 : RULER + 3;
  const top = paceTop + PACE;
  const bottom = top + THREADS;
  const rulers = useMemo(() => rulersOf(scale, strands, isScene), [scale, strands, isScene]);
  const axis = useMemo(() => paceAxis(strands, paceTop, PACE - 4), [strands, paceTop]);
  const lines = useMemo(
    () => threadsOf(strands, rulers, top, bottom, [LABEL_WIDTH, scale.width]),
    [strands, rulers, top, bottom, scale.width],
  );
  const left = xOf(scale, strands.start);
  const right = xOf(scale, strands.end);
  const clip = `strands-${of ?? 'scene'}`;
  return (
    <div className={`strands ${isScene ? 'is-scene' : ''}`} data-strands={of ?? 'scene'}>
      <StripHead
        name={isScene ? 'Scene elastic' : name}
        words={isScene ? ['played', 'laid'] : (props.words ?? ['laid', 'source'])}
        isStraight={strands.is_straight}
        isScene={isScene}
        height={height}
        axis={[axis.y(1), axis.y(0)]}
        onStraighten={mayChange ? () => actions.straighten(of) : null}
      />
      {/* biome-ignore lint/a11y/useSemanticElements: a drawn picture, with a group's role */}
      <svg
        width={scale.width}
        height={height}
        role="group"
        aria-label={`Strands of ${isScene ? 'the scene' : name}: ${strands.is_straight ? 'as made' : `${strands.pins.length} pins`}`}
      >
        <clipPath id={clip}>
          <rect x={LABEL_WIDTH - 1} width={Math.max(0, scale.width)} height={height} />
        </clipPath>
        <g clipPath={`url(#${clip})`}>
          <rect x={left} y={0} width={right - left} height={height - 2} className="bed" />
          {!isScene && (
            <Numbers
              low={strands.start}
              high={strands.end - 1}
              x={rulers.played}
              pixels={scale.pixelsPerFrame}
              first={props.firstPlayed}
              y={RULER - 4}
              seen={[LABEL_WIDTH, scale.width]}
            />
          )}
          <PaceGraph
            strands={strands}
            rulers={rulers}
            axis={axis}
            of={of}
            mayChange={mayChange}
            actions={actions}
          />
          <path className="threads-rounds" d={lines.rounds} />
          <path className="threads" d={lines.fine} />
          <path className="threads is-strong" d={lines.strong} />
          <path className="threads is-held" d={lines.held} />
          <path className="threads is-back" d={lines.back} />
          <path className="edge" d={`M${left} ${top}H${right}`} />
          <path
            className="edge"
            d={`M${rulers.source(strands.source_low)} ${bottom}H${rulers.source(strands.source_high)}`}
          />
          <Numbers
            low={strands.source_low}
            high={strands.source_high}
            x={rulers.source}
            pixels={rulers.pixels}
            first={props.firstSource}
            y={bottom + RULER - 3}
            seen={[LABEL_WIDTH, scale.width]}
          />
          <Rounds strands={strands} rulers={rulers} y={bottom + RULER - 3} />
          <DrawingsAt {...props} rulers={rulers} top={top} bottom={bottom} />
          <ThreadHand {...props} rulers={rulers} top={top} bottom={bottom} />
          <Needle
            head={head}
            onScene={isScene}
            place={(played) => {
              const source = sourceAt(strands, played);
              if (source === null) return null;
              return {
                x: rulers.played(played),
                to: rulers.source(source),
                said: String(Math.round((source + props.firstSource) * 10) / 10),
              };
            }}
            top={isScene ? 0 : RULER}
            bend={top}
            bottom={bottom}
          />
          {strands.pins.map((pin, place) => (
            <Pin
              // Pins have no names of their own: they are told by their places.
              // biome-ignore lint/suspicious/noArrayIndexKey: a pin is its place
              key={place}
              {...props}
              place={place}
              x={rulers.played(pin.played)}
              to={rulers.source(pin.source)}
              top={top}
              bottom={bottom}
            />
          ))}
        </g>
      </svg>
    </div>
  );
}

interface StripHeadProps {
  readonly name: string;
  readonly words: readonly [string, string];
  readonly isStraight: boolean;
  readonly isScene: boolean;
  readonly height: number;
  readonly axis: readonly [number, number];
  readonly onStraighten: (() => void) | null;
}

function StripHead(props: StripHeadProps) {
  const { name, words, isStraight, isScene, height, axis, onStraighten } = props;
  return (
    <div className="strip-head" style={{ height }}>
      <b className="clipped">{name}</b>
      {!isScene && <span className="ruler-word">{words[0]}</span>}
      <span className="axis-word" style={{ top: axis[0] - 8 }}>
        100 %
      </span>
      <span className="axis-word" style={{ top: axis[1] - 8 }}>
        0 %
      </span>
      <span className="ruler-word is-lower">{words[1]}</span>
      {isStraight ? (
        <span className="quiet state">as {isScene ? 'laid' : 'made'}</span>
      ) : (
        onStraighten && (
          <button type="button" className="link-button state" onClick={onStraighten}>
            Straighten
          </button>
        )
      )}
    </div>
  );
}

interface NumbersProps {
  readonly low: number;
  readonly high: number;
  readonly x: (frame: number) => number;
  readonly pixels: number;
  readonly first: number;
  readonly y: number;
  readonly seen: readonly [number, number];
}

function Numbers({ low, high, x, pixels, first, y, seen }: NumbersProps) {
  return numbersOf(low, high, pixels, first)
    .map((shown) => ({ shown, at: x(shown - first) }))
    .filter(({ at }) => at > seen[0] && at < seen[1])
    .map(({ shown, at }) => (
      <text key={shown} className="ruler-number" x={at} y={y} textAnchor="middle">
        {shown}
      </text>
    ));
}

interface RoundsProps {
  readonly strands: Strands;
  readonly rulers: Rulers;
  readonly y: number;
}

/** The rounds of a cycle by number, where there is room. */
function Rounds({ strands, rulers, y }: RoundsProps) {
  const length = strands.round_frames;
  if (!length || length * rulers.pixels < 120) return null;
  const rounds: number[] = [];
  const last = Math.floor((strands.source_high - 1e-6) / length);
  for (let k = Math.floor(strands.source_low / length); k <= last && rounds.length < 60; k += 1)
    rounds.push(k);
  return rounds.map((k) => (
    <text
      key={k}
      className="round-word"
      x={rulers.source(Math.max(k * length, strands.source_low) + 1.5)}
      y={y - 13}
    >
      round {k + 1}
    </text>
  ));
}

type Between = StrandsStripProps & {
  readonly rulers: Rulers;
  readonly top: number;
  readonly bottom: number;
};

/** The drawings at the threads: where each begins, with its number where there is room. */
function DrawingsAt({ strands, exposed = [], rulers, scale, top, bottom }: Between) {
  let free = Number.NEGATIVE_INFINITY;
  return exposed.map(({ frame, drawing }) => {
    const x = rulers.played(frame);
    const source = sourceAt(strands, frame);
    if (x < LABEL_WIDTH - NUMBER_WIDTH || x > scale.width || source === null) return null;
    const said = String(drawing);
    const hasRoom = x >= free;
    if (hasRoom) free = x + NUMBER_WIDTH + DIGIT_WIDTH * said.length;
    return (
      <g key={frame} className="drawing-thread">
        <path d={thread(x, top, rulers.source(source), bottom)} />
        {hasRoom && (
          <text x={x + 3} y={top + 12}>
            {said}
          </text>
        )}
      </g>
    );
  });
}

const NUMBER_WIDTH = 8;
const DIGIT_WIDTH = 7;

/** The threads by hand: a press pins one, a draw from its upper or lower half moves that end at once. */
function ThreadHand(props: Between) {
  const { strands, of, rulers, top, bottom, mayChange, actions } = props;
  const [over, setOver] = useState<{ readonly played: number; readonly source: number } | null>(
    null,
  );
  const at = (event: PointerEvent<SVGElement>) => {
    const box = event.currentTarget.closest('svg')?.getBoundingClientRect();
    const x = event.clientX - (box?.left ?? 0);
    const share = (event.clientY - (box?.top ?? 0) - top) / (bottom - top);
    return { near: threadNear(strands, rulers, x, Math.max(0, Math.min(1, share))), share };
  };
  if (!mayChange) return null;
  return (
    <>
      {over && (
        <>
          <path
            className="threads is-over"
            d={thread(rulers.played(over.played), top, rulers.source(over.source), bottom)}
          />
          <text className="thread-word" x={rulers.played(over.played) + 5} y={top + 12}>
            {Math.round((over.source + props.firstSource) * 10) / 10}
          </text>
        </>
      )}
      {/* Threads are also pinned by keys, from the card: this is the hand for them. */}
      <rect
        className="thread-hand"
        x={Math.min(rulers.played(strands.start), rulers.source(strands.source_low))}
        y={top}
        width={
          Math.max(rulers.played(strands.end), rulers.source(strands.source_high)) -
          Math.min(rulers.played(strands.start), rulers.source(strands.source_low))
        }
        height={bottom - top}
        onPointerMove={(event) => {
          if (event.buttons === 0) setOver(at(event).near);
        }}
        onPointerLeave={() => setOver(null)}
        onPointerDown={(event) => {
          event.stopPropagation();
          if (event.button !== 0) return;
          const { near, share } = at(event);
          setOver(null);
          if (near) actions.grabThread(event, of, strands, near, share < 0.5 ? 'played' : 'source');
        }}
      >
        <title>
          Press a thread to pin it; draw its upper end in time, its lower end in the source
        </title>
      </rect>
    </>
  );
}

type PinProps = StrandsStripProps & {
  readonly place: number;
  readonly x: number;
  readonly to: number;
  readonly top: number;
  readonly bottom: number;
};

/** A pin: its heads on both rulers are drawn along them. */
function Pin(props: PinProps) {
  const { strands, of, place, x, to, top, bottom, colour, chosenPin, mayChange, actions } = props;
  const pin = strands.pins[place];
  const chosen = chosenPin === place;
  const round = (value: number) => Math.round(value * 100) / 100;
  const keys = (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (event.key === 'Enter' || event.key === ' ') actions.choosePin(of, place);
    else if (event.altKey && way && mayChange) actions.nudgePin(of, strands, place, way);
    else if ((event.key === 'Delete' || event.key === 'Backspace') && mayChange)
      actions.removePin(of, place);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const grab = (end: 'played' | 'source') => (event: PointerEvent) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    actions.choosePin(of, place);
    if (mayChange) actions.grabPin(event, of, strands, place, end);
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a pin drawn in SVG, with a button's role and keys
    <g
      className={`pin ${chosen ? 'is-chosen' : ''}`}
      role="button"
      tabIndex={0}
      aria-pressed={chosen}
      aria-label={`Pin: ${round(pin.source + props.firstSource)} plays at ${round(pin.played + props.firstPlayed)}`}
      data-pin={place}
      onKeyDown={keys}
    >
      <path className="pinned" d={thread(x, top, to, bottom)} />
      <circle className="head" cx={x} cy={top} r="5.2" fill={colour} onPointerDown={grab('played')}>
        <title>When it plays: draw it along</title>
      </circle>
      <circle className="foot" cx={to} cy={bottom} r="4" onPointerDown={grab('source')}>
        <title>What plays: draw it along</title>
      </circle>
    </g>
  );
}
