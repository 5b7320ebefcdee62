import { memo, type PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { counted } from '../app/counted';
import { CheckStrip, type LaneMark, STRIP_HEIGHT } from './CheckStrip';
import { type FixActions, FixMarks } from './FixMarks';
import { LaneHead, type LaneHeadActions } from './LaneHead';
import { frameAt, LABEL_WIDTH, type Scale, xOf } from './scale';
import { cyclesText, outlineOf, path, pinOf, scarf } from './stintShape';

type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];
type Join = Schemas['DeskJoin'];

export type Grip = 'body' | 'start' | 'end';

export interface LaneActions extends LaneHeadActions, FixActions {
  readonly pick: (stint: Stint, adding: boolean) => void;
  readonly grabStint: (event: PointerEvent, lane: Lane, stint: Stint, grip: Grip) => void;
  readonly pickJoin: (lane: Lane, join: Join) => void;
  readonly grabJoin: (event: PointerEvent, lane: Lane, join: Join) => void;
  readonly nextGapRule: (lane: Lane, gap: Schemas['DeskGap']) => void;
  readonly goTo: (lane: Lane, frame: number) => void;
}

interface LaneRowProps {
  readonly lane: Lane;
  readonly scale: Scale;
  readonly height: number;
  readonly firstFrame: number;
  /** Chosen stints of this lane, and the incoming stint of a chosen join. */
  readonly chosen: readonly string[];
  readonly chosenJoin: string | null;
  readonly chosenFix: string | null;
  readonly isChosen: boolean;
  readonly isTarget: boolean;
  readonly mayChange: boolean;
  /** What is off on the lane; none where that is not known. */
  readonly marks: readonly LaneMark[] | undefined;
  readonly actions: LaneActions;
}

const PAD = 4;
const HOLDS = 7;
const LEAST_BRACKET = 3;
const HANDLE = 8;
/** Above this height a card has room for its plants under its name. */
const LOW = 34;
const LETTER = 6.4;
/** From this width on a name stands clear of the pencil strokes; on many narrow cards that is dear. */
const WIDE = 120;

/** A lane: its head, and its stints along the time. Only what is seen is drawn. */
export const LaneRow = memo(function LaneRow(props: LaneRowProps) {
  const { lane, scale, height, firstFrame, chosen, chosenJoin, isTarget, mayChange, actions } =
    props;
  const pad = lane.folded ? 2 : PAD;
  const holds = lane.folded || !lane.holds.length ? 0 : HOLDS;
  const cardHeight = height - pad - holds - (lane.folded ? pad : STRIP_HEIGHT + 1);
  const last = frameAt(scale, scale.width);
  const seen = <T extends { start: number; end: number }>(things: readonly T[]) =>
    things.filter((thing) => thing.end >= scale.start && thing.start <= last);
  return (
    <>
      <LaneHead
        lane={lane}
        height={height}
        chosen={props.isChosen}
        mayChange={mayChange}
        actions={actions}
      />
      {/* biome-ignore lint/a11y/useSemanticElements: a drawn row, with a group's role */}
      <svg
        width={scale.width}
        height={height}
        role="group"
        aria-label={`${lane.figure_name}, ${lane.name}: ${lane.fixes ? counted(lane.fixes.length, 'fix', 'fixes') : `${lane.stints.length} stints`}`}
      >
        <rect
          className={`lane-bed ${isTarget ? 'is-target' : ''}`}
          width={scale.width}
          height={height}
          fill="transparent"
        />
        <path d={`M0 ${height - 0.5}H${scale.width}`} stroke="var(--rule-soft)" />
        <clipPath id={`clip-${lane.id}`}>
          <rect x={LABEL_WIDTH - 1} width={scale.width} height={height} />
        </clipPath>
        <g clipPath={`url(#clip-${lane.id})`}>
          <g transform={`translate(0 ${pad})`}>
            {seen(lane.gaps).map((gap) => (
              <Gap
                key={gap.start}
                gap={gap}
                lane={lane}
                scale={scale}
                height={cardHeight}
                onPress={mayChange ? () => actions.nextGapRule(lane, gap) : null}
              />
            ))}
            {seen(lane.stints).map((stint) => (
              <StintCard
                key={stint.id}
                lane={lane}
                stint={stint}
                into={lane.joins.find((join) => join.incoming === stint.id)}
                out={lane.joins.find((join) => join.outgoing === stint.id)}
                scale={scale}
                height={cardHeight}
                firstFrame={firstFrame}
                chosen={chosen.includes(stint.id)}
                actions={actions}
              />
            ))}
            {lane.fixes && (
              <FixMarks
                fixes={seen(lane.fixes)}
                isEmpty={lane.fixes.length === 0}
                of={lane.figure_name}
                scale={scale}
                height={cardHeight}
                firstFrame={firstFrame}
                chosen={props.chosenFix}
                actions={actions}
              />
            )}
            {seen(lane.joins).map((join) => (
              <JoinLine
                key={join.incoming}
                join={join}
                lane={lane}
                scale={scale}
                height={cardHeight}
                chosen={chosenJoin === join.incoming}
                actions={actions}
              />
            ))}
          </g>
          {holds > 0 && (
            <Holds lane={lane} scale={scale} last={last} top={height - STRIP_HEIGHT - holds - 1} />
          )}
          {props.marks && !lane.folded && (
            <CheckStrip
              marks={seen(props.marks.map(withStart)).map(({ mark }) => mark)}
              of={`${lane.figure_name}, ${lane.name}`}
              scale={scale}
              top={height - STRIP_HEIGHT - 1}
              firstFrame={firstFrame}
              onGo={(frame) => actions.goTo(lane, frame)}
            />
          )}
        </g>
      </svg>
    </>
  );
});

interface HoldsProps {
  readonly lane: Lane;
  readonly scale: Scale;
  readonly last: number;
  readonly top: number;
}

/** How long each pose stays: a bracket for each, where there is room for them. */
function Holds({ lane, scale, last, top }: HoldsProps) {
  const { holds } = lane;
  const d: string[] = [];
  let before = Number.NEGATIVE_INFINITY;
  for (const [place, start] of holds.entries()) {
    const end = holds[place + 1] ?? start + 1;
    if (end < scale.start || start > last) continue;
    const [x, to] = [xOf(scale, start) + 1, xOf(scale, end) - 1];
    if (to - x >= LEAST_BRACKET) d.push(`M${x} ${top}v4H${to}v-4`);
    else if (x - before >= LEAST_BRACKET) {
      d.push(`M${x} ${top}v4`);
      before = x;
    }
  }
  return (
    <path className="holds" d={d.join('')}>
      <title>{`Each pose stays ${lane.exposure.said}`}</title>
    </path>
  );
}

const withStart = (mark: LaneMark) => ({ mark, start: mark.frame, end: mark.end });

const GAP_WORDS = {
  rest: 'rests',
  hold: 'holds',
  wait: 'waits in the next',
  ease: 'eases over',
} as const;

interface GapProps {
  readonly gap: Schemas['DeskGap'];
  readonly lane: Lane;
  readonly scale: Scale;
  readonly height: number;
  readonly onPress: (() => void) | null;
}

/** What a figure does where its lane has no stint: drawn as it is, and pressed to change it. */
function Gap({ gap, lane, scale, height, onPress }: GapProps) {
  const x = xOf(scale, gap.start);
  const width = xOf(scale, gap.end) - x;
  const y = height / 2;
  const words = lane.lies_over ? 'shows what lies below' : GAP_WORDS[gap.rule];
  const line = lane.lies_over
    ? ''
    : {
        // At rest nothing carries over; held, the last pose goes on; waiting, the next one stands.
        rest: `M${x + 8} ${y}H${x + width - 8}`,
        hold: `M${x} ${y}H${x + width - 8}`,
        wait: `M${x + 8} ${y}H${x + width}M${x + width - 5} ${y - 4}l5 4l-5 4`,
        // The pose goes over into the next one.
        ease: `M${x} ${y + 4}C${x + width / 2} ${y + 4} ${x + width / 2} ${y - 4} ${x + width} ${y - 4}`,
      }[gap.rule];
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawn stretch of a lane, with a button's role
    <g
      className="gap"
      role="button"
      tabIndex={onPress && !lane.lies_over ? 0 : -1}
      aria-disabled={!onPress || lane.lies_over}
      aria-label={`Gap of ${lane.figure_name}: ${words}`}
      onDoubleClick={() => !lane.lies_over && onPress?.()}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || lane.lies_over) return;
        event.stopPropagation();
        onPress?.();
      }}
    >
      <path
        d={line}
        fill="none"
        stroke="var(--rule-strong)"
        strokeDasharray={gap.rule === 'rest' ? '1 5' : gap.rule === 'wait' ? '5 4' : undefined}
        strokeLinecap="round"
      />
      {width > (words.length > 6 ? 124 : 60) && !lane.folded && (
        <>
          <rect x={x + width / 2 - 34} y={y - 9} width="68" height="18" fill="transparent" />
          <text className="desk-label is-sub" x={x + width / 2} y={y - 5} textAnchor="middle">
            {words}
          </text>
        </>
      )}
    </g>
  );
}

interface StintCardProps {
  readonly lane: Lane;
  readonly stint: Stint;
  readonly into: Join | undefined;
  readonly out: Join | undefined;
  readonly scale: Scale;
  readonly height: number;
  readonly firstFrame: number;
  readonly chosen: boolean;
  readonly actions: LaneActions;
}

const StintCard = memo(function StintCard(props: StintCardProps) {
  const { lane, stint, into, out, scale, height, firstFrame, chosen, actions } = props;
  const outline = outlineOf(scale, stint, height, into, out);
  const colour = `var(--${stint.colour})`;
  const start = xOf(scale, stint.start);
  const end = xOf(scale, stint.end);
  const name = stint.cycles === null ? stint.name : `${stint.name}, ${cyclesText(stint.cycles)}`;
  const shown = `${Math.round(stint.start) + firstFrame} to ${Math.round(stint.end) - 1 + firstFrame}`;
  const textX = Math.max(into ? xOf(scale, into.end) + 3 : start + 8, xOf(scale, scale.start) + 4);
  const { pace } = stint.numbers;
  const text = [
    name,
    Math.abs(pace - 1) > 0.005 ? ` at ${Math.round(pace * 100)} %` : '',
    !stint.is_straight && Math.abs(pace - 1) <= 0.005 ? ', retimed' : '',
    stint.exposure ? `, ${stint.exposure.said}` : '',
    stint.nailed ? ', nailed down' : '',
    stint.rests.length > 0 ? `, ${stint.rests.length} at rest` : '',
    stint.dropped.length > 0 ? `, ${stint.dropped.length} dropped` : '',
  ].join('');

  return (
    // biome-ignore lint/a11y/useSemanticElements: a card drawn in SVG, with a button's role and keys
    <g
      className={`stint ${chosen ? 'is-chosen' : ''}`}
      role="button"
      tabIndex={0}
      aria-label={`${name}, frames ${shown}`}
      aria-pressed={chosen}
      data-stint={stint.id}
      onPointerDown={(event) => actions.grabStint(event, lane, stint, 'body')}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.preventDefault();
        event.stopPropagation();
        actions.pick(stint, event.shiftKey);
      }}
    >
      <clipPath id={`card-${stint.id}`}>
        <path d={outline} />
      </clipPath>
      <path d={outline} fill="var(--sheet)" />
      <path d={outline} fill={`url(#pencil-${stint.colour})`} />
      {height >= LOW && (
        <g clipPath={`url(#card-${stint.id})`}>
          {end - start > 14 * (stint.cycles ?? 1) && (
            <Seams
              at={stint.cycle_starts.map((moment) => xOf(scale, moment))}
              height={height}
              colour={colour}
            />
          )}
          {end - start > 24 && <Plants plants={stint.plants} scale={scale} height={height} />}
          {stint.exposed.length > 0 && <Exposed stint={stint} scale={scale} height={height} />}
        </g>
      )}
      <path
        className="card"
        d={outline}
        fill="none"
        stroke={chosen ? 'var(--ink)' : colour}
        strokeWidth={chosen ? 1.9 : 1.2}
        strokeLinejoin="round"
      />
      {stint.weights && (
        <WeightLine stint={stint} weights={stint.weights} scale={scale} height={height} />
      )}
      {end - start > 30 && (
        <text
          className={end - start > WIDE ? 'halo' : undefined}
          x={textX}
          y="14"
          // Cutting text is dear, so only what would run over is cut.
          clipPath={textX + text.length * LETTER > end - 4 ? `url(#card-${stint.id})` : undefined}
        >
          {text}
          <title>{text}</title>
        </text>
      )}
      <rect
        className="edge-handle"
        data-grip="start"
        x={start - 1}
        width={HANDLE}
        height={into ? height / 2 : height}
        onPointerDown={(event) => actions.grabStint(event, lane, stint, 'start')}
      />
      <rect
        className="edge-handle"
        data-grip="end"
        x={end - HANDLE + 1}
        y={out ? height / 2 : 0}
        width={HANDLE}
        height={out ? height / 2 : height}
        onPointerDown={(event) => actions.grabStint(event, lane, stint, 'end')}
      />
    </g>
  );
});

interface WeightLineProps {
  readonly stint: Stint;
  readonly weights: readonly number[];
  readonly scale: Scale;
  readonly height: number;
}

/** How much of a stint shows: a line from nothing at the bottom to the whole at the top, with its keys. */
function WeightLine({ stint, weights, scale, height }: WeightLineProps) {
  const start = xOf(scale, stint.start);
  const width = xOf(scale, stint.end) - start;
  const y = (weight: number) => height - 2 - weight * (height - 4);
  const points = weights.map((weight, k): [number, number] => [
    start + (width * k) / (weights.length - 1),
    y(weight),
  ]);
  return (
    <g className="weight-line">
      <path d={path(points)} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
      {stint.weight_keys.map((at) => (
        <path
          key={at}
          d={`M${xOf(scale, at)} ${height - 1}v-6`}
          stroke="var(--ink)"
          strokeWidth="2"
        />
      ))}
    </g>
  );
}

interface SeamsProps {
  readonly at: readonly number[];
  readonly height: number;
  readonly colour: string;
}

/** Where a cycle comes round: rows of small cross-stitches. */
function Seams({ at, height, colour }: SeamsProps) {
  if (!at.length) return null;
  const stitches: string[] = [];
  for (const x of at) {
    for (let y = 20; y < height - 3; y += 7) {
      stitches.push(`M${x - 2} ${y}l4 4M${x + 2} ${y}l-4 4`);
    }
  }
  return <path d={stitches.join('')} stroke={colour} strokeWidth="1.1" strokeLinecap="round" />;
}

interface ExposedProps {
  readonly stint: Stint;
  readonly scale: Scale;
  readonly height: number;
}

const LEAST_EXPOSED = 3.2;
const DIGIT = 6.6;

/** What shows of a run of drawings: its numbers where each comes up, with the lines that hold them. */
function Exposed({ stint, scale, height }: ExposedProps) {
  const y = height - 9;
  const shown = stint.exposed.flatMap(({ frame, drawing }, place) => {
    const left = xOf(scale, frame);
    const right = xOf(scale, stint.exposed[place + 1]?.frame ?? stint.end);
    const isSeen = right > xOf(scale, scale.start) && left < scale.width;
    return isSeen && right - left > LEAST_EXPOSED ? [{ frame, drawing, left, right }] : [];
  });
  const lines = shown.map(({ drawing, left, right }) => {
    const from = left + 6 + DIGIT * String(drawing).length;
    return from < right - 3 ? `M${from} ${y - 4}H${right - 2}v-3v6` : `M${right - 1} ${y - 8}v8`;
  });
  return (
    <g className="exposed">
      <path d={lines.join('')} fill="none" stroke="var(--ink)" strokeWidth="1" />
      {shown.map(
        ({ frame, drawing, left, right }) =>
          right - left > 3 + DIGIT * String(drawing).length && (
            <text key={frame} className="number" x={left + 3} y={y}>
              {drawing}
            </text>
          ),
      )}
    </g>
  );
}

interface PlantsProps {
  readonly plants: readonly Schemas['DeskPlant'][];
  readonly scale: Scale;
  readonly height: number;
}

/** Feet on the ground: left is solid blue, right is hatched red. One shape a side. */
function Plants({ plants, scale, height }: PlantsProps) {
  const bars = (isRight: boolean, y: number, tall: number) =>
    plants
      .filter((plant) => (plant.side === 'right') === isRight)
      .map((plant) => {
        const x = xOf(scale, plant.start) + 0.5;
        const width = Math.max(1, xOf(scale, plant.end) - x - 0.5);
        return `M${x} ${y}h${width}v${tall}h${-width}z`;
      })
      .join('');
  return (
    <>
      <path
        data-plants="left"
        shapeRendering="crispEdges"
        d={bars(false, height - 15, 4.5)}
        fill="var(--before)"
      />
      <path
        data-plants="right"
        shapeRendering="crispEdges"
        d={bars(true, height - 8, 4)}
        fill="url(#hatch-right)"
        stroke="var(--after)"
        strokeWidth="0.9"
      />
    </>
  );
}

interface JoinLineProps {
  readonly join: Join;
  readonly lane: Lane;
  readonly scale: Scale;
  readonly height: number;
  readonly chosen: boolean;
  readonly actions: LaneActions;
}

function JoinLine({ join, lane, scale, height, chosen, actions }: JoinLineProps) {
  const cut = path([
    [xOf(scale, join.start), 0],
    ...scarf(scale, join, height),
    [xOf(scale, join.end), height],
  ]);
  const [x, y] = pinOf(scale, join, height);
  const nameOf = (id: string) => lane.stints.find((stint) => stint.id === id)?.name ?? '';
  return (
    // biome-ignore lint/a11y/useSemanticElements: a joint drawn in SVG, with a button's role and keys
    <g
      className="join-line"
      role="button"
      tabIndex={0}
      aria-label={`Join ${nameOf(join.outgoing)} to ${nameOf(join.incoming)}, ${Math.round(join.end - join.start)} frames`}
      aria-pressed={chosen}
      data-join={join.incoming}
      onPointerDown={(event) => actions.grabJoin(event, lane, join)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.stopPropagation();
        actions.pickJoin(lane, join);
      }}
    >
      {chosen && (
        <>
          <path d={cut} fill="none" stroke="var(--sheet)" strokeWidth="6.5" />
          <path d={cut} fill="none" stroke="var(--lamp)" strokeWidth="4.6" strokeLinejoin="round" />
        </>
      )}
      <path
        className="wood"
        d={cut}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.5"
        strokeLinejoin="round"
      />
      <circle cx={x} cy={y} r="8" fill="transparent" />
      <circle cx={x} cy={y} r="4.2" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.5" />
      <circle cx={x} cy={y} r="1.5" fill="var(--ink)" />
    </g>
  );
}
