import { type PointerEvent, useSyncExternalStore } from 'react';
import type { LaidHead } from '../player/laidHead';
import type { Player, Range } from '../player/player';
import { frameAt, rulerStep, type Scale, xOf } from './scale';

interface RulerProps {
  readonly scale: Scale;
  readonly length: number;
  readonly firstFrame: number;
  readonly framesPerSecond: number;
  readonly player: Player;
  /** Given where the ruler lies by laid frames: without strands under it, on the lanes at once. */
  readonly head: LaidHead | null;
  /** Which frames are shown where played and laid ones differ; the other ones are faint. */
  readonly shows?: 'played' | 'laid';
}

export const RULER_HEIGHT = 34;
const SECONDS_STRIP = 11;
const HANDLE = 9;

/** Frames as the scene shows them, and seconds under them: press or draw along it to scrub. */
export function Ruler(props: RulerProps) {
  const { scale, length, firstFrame, framesPerSecond, player, head } = props;
  const bent = head && !head.isStraight ? head : null;
  const shows = bent ? (props.shows ?? 'laid') : 'laid';
  const { range } = useSyncExternalStore(player.subscribe, player.snapshot);
  const step = rulerStep(scale);
  const frameOf = (event: PointerEvent<SVGElement>) => {
    const box = event.currentTarget.closest('svg')?.getBoundingClientRect();
    return frameAt(scale, event.clientX - (box?.left ?? 0));
  };
  const scrub = (event: PointerEvent<SVGSVGElement>) => {
    player.pause();
    (head ?? player).goTo(Math.floor(frameOf(event)));
  };
  /** Shift draws the range that loops. */
  const draw = (event: PointerEvent<SVGSVGElement>) => {
    const from = Math.round(frameOf(event));
    const svg = event.currentTarget;
    svg.setPointerCapture(event.pointerId);
    svg.onpointermove = (moved) => {
      const to = Math.round(frameAt(scale, moved.clientX - svg.getBoundingClientRect().left));
      if (to !== from)
        (head ?? player).setRange({ start: Math.min(from, to), end: Math.max(from, to) });
    };
    svg.onpointerup = () => {
      svg.onpointermove = null;
      svg.onpointerup = null;
    };
  };
  const last = firstFrame + length - 1;
  const numbers = [firstFrame];
  for (let shown = Math.ceil((firstFrame + 1) / step) * step; shown <= last; shown += step) {
    numbers.push(shown);
  }
  const middle = (shown: number) => xOf(scale, shown - firstFrame + 0.5);
  const left = xOf(scale, scale.start);
  const seen = numbers.filter((n) => middle(n) >= left - 1 && middle(n) < scale.width);
  return (
    <svg
      className="ruler"
      width={scale.width}
      height={RULER_HEIGHT}
      role="img"
      aria-label={`Frames ${firstFrame} to ${last}`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        if (event.shiftKey) {
          draw(event);
          return;
        }
        event.currentTarget.setPointerCapture(event.pointerId);
        scrub(event);
      }}
      onPointerMove={(event) => {
        const held = event.currentTarget.hasPointerCapture(event.pointerId);
        if (held && !event.currentTarget.onpointermove) scrub(event);
      }}
    >
      <title>Scrub; with Shift draw the range that loops</title>
      <rect width={scale.width} height={RULER_HEIGHT} fill="var(--paper)" />
      <path d={`M0 ${RULER_HEIGHT - 0.5}H${scale.width}`} stroke="var(--rule)" />
      <g fill="var(--sheet)" stroke="var(--rule-strong)" strokeWidth="1.1">
        <rect x="26" y="3.5" width="22" height="6" rx="3" />
        <circle cx="76" cy="6.5" r="3.6" />
        <rect x="104" y="3.5" width="22" height="6" rx="3" />
      </g>
      {bent ? (
        <Bent
          scale={scale}
          head={bent}
          firstFrame={firstFrame}
          length={player.snapshot().length}
          y={shows === 'played' ? 12 : RULER_HEIGHT - 3}
          isFaint={shows === 'laid'}
        />
      ) : (
        <Seconds
          scale={scale}
          length={length}
          framesPerSecond={framesPerSecond}
          y={RULER_HEIGHT - 3}
        />
      )}
      {seen.map((shown, place) => (
        <g key={shown}>
          <path
            d={`M${middle(shown)} 14V${RULER_HEIGHT - SECONDS_STRIP}`}
            stroke="var(--graphite)"
          />
          {(place === 0 || middle(shown) - middle(seen[0]) > 26) && (
            <text
              className={`ruler-number ${shows === 'played' ? 'is-faint' : ''}`}
              x={middle(shown)}
              y={shows === 'played' ? RULER_HEIGHT - 3 : 12}
              textAnchor="middle"
            >
              {shown}
            </text>
          )}
        </g>
      ))}
      {range && (
        <LoopBand
          scale={scale}
          range={head ? laidRange(head, range) : range}
          onRange={(wanted) => (head ?? player).setRange(wanted)}
        />
      )}
    </svg>
  );
}

/** A range that loops, as it lies on the lanes. */
const laidRange = (head: LaidHead, { start, end }: Range): Range => ({
  start: Math.round(head.laidAt(start)),
  end: Math.round(head.laidAt(end)),
});

interface BentProps {
  readonly scale: Scale;
  readonly head: LaidHead;
  readonly firstFrame: number;
  readonly length: number;
  readonly y: number;
  readonly isFaint: boolean;
}

const LEAST_APART = 30;

/** Played frames where they lie on a ruler of laid ones: crowded where time is slow. */
function Bent({ scale, head, firstFrame, length, y, isFaint }: BentProps) {
  const step = rulerStep(scale);
  const found: { readonly shown: number; readonly x: number }[] = [];
  for (
    let shown = Math.ceil(firstFrame / step) * step;
    shown < firstFrame + length;
    shown += step
  ) {
    const x = xOf(scale, head.laidAt(shown - firstFrame) + 0.5);
    const last = found.at(-1);
    const isSeen = x >= xOf(scale, scale.start) && x < scale.width;
    if (isSeen && (!last || Math.abs(x - last.x) >= LEAST_APART)) found.push({ shown, x });
  }
  return found.map(({ shown, x }) => (
    <text
      key={shown}
      className={`ruler-number is-played ${isFaint ? 'is-faint' : ''}`}
      x={x}
      y={y}
      textAnchor="middle"
    >
      {shown}
    </text>
  ));
}

interface SecondsProps {
  readonly scale: Scale;
  readonly length: number;
  readonly framesPerSecond: number;
  readonly y: number;
}

const SECOND_STEPS = [1, 2, 5, 10, 30, 60, 300, 600];

function Seconds({ scale, length, framesPerSecond, y }: SecondsProps) {
  const pixels = scale.pixelsPerFrame * framesPerSecond;
  const step = SECOND_STEPS.find((seconds) => seconds * pixels > 44) ?? 1200;
  const found: number[] = [];
  for (let second = 0; second * framesPerSecond < length; second += step) {
    const x = xOf(scale, second * framesPerSecond);
    if (x >= xOf(scale, scale.start) - 1 && x < scale.width) found.push(second);
  }
  return (
    <g>
      {found.map((second) => (
        <text
          key={second}
          className="ruler-second"
          x={xOf(scale, second * framesPerSecond) + 3}
          y={y}
        >
          {second} s
        </text>
      ))}
    </g>
  );
}

interface LoopBandProps {
  readonly scale: Scale;
  readonly range: Range;
  readonly onRange: (range: Range) => void;
}

/** The range that loops, an elastic band along the ruler: draw its ends or its middle. */
function LoopBand({ scale, range, onRange }: LoopBandProps) {
  const start = Math.max(xOf(scale, range.start), xOf(scale, scale.start));
  const end = xOf(scale, range.end);
  const grab = (event: PointerEvent<SVGRectElement>, grip: 'start' | 'end' | 'both') => {
    event.stopPropagation();
    const from = event.clientX;
    const rect = event.currentTarget;
    rect.setPointerCapture(event.pointerId);
    rect.onpointermove = (moved) => {
      const frames = Math.round((moved.clientX - from) / scale.pixelsPerFrame);
      const first = range.start + (grip === 'end' ? 0 : frames);
      const last = range.end + (grip === 'start' ? 0 : frames);
      if (first >= 0 && first < last) onRange({ start: first, end: last });
    };
    rect.onpointerup = () => {
      rect.onpointermove = null;
    };
  };
  if (end <= start) return null;
  return (
    <g className="loop-band">
      <rect x={start} y="0" width={end - start} height="4" onPointerDown={(e) => grab(e, 'both')} />
      <rect x={start - 1} y="0" width={HANDLE} height="9" onPointerDown={(e) => grab(e, 'start')} />
      <rect
        x={end - HANDLE + 1}
        y="0"
        width={HANDLE}
        height="9"
        onPointerDown={(e) => grab(e, 'end')}
      />
    </g>
  );
}
