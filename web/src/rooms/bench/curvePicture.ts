/** The picture of curves: where values lie, what is under the pointer, and how all is painted. */

import type { BenchCurve, BenchKey, Chosen, Slope, Trace } from '../../api/clips';
import {
  AFTER_TEXT,
  AMBER,
  GRAPHITE,
  INK,
  NON_PHOTO_BLUE,
  PENCIL_BLUE,
  PLUM,
  RULE_SOFT,
  SHEET,
  VIRIDIAN,
} from '../../stage/colour';
import { type Unit, WRITTEN } from './kinds';

export const INKS = [INK, VIRIDIAN, PLUM, PENCIL_BLUE, AFTER_TEXT, GRAPHITE];
export const LEFT = 44;
export const TOP = 20;
export const BOTTOM = 8;
const REACH = 7;
const HANDLE = 34;
const LEAST_FRAMES = 2;

/** The frames that are seen. */
export interface FrameWindow {
  readonly start: number;
  readonly end: number;
}

export interface View extends FrameWindow {
  readonly low: number;
  readonly high: number;
  readonly width: number;
  readonly height: number;
}

export const xAt = (view: View, frame: number) =>
  LEFT + ((frame - view.start) / (view.end - view.start)) * (view.width - LEFT);
export const yAt = (view: View, value: number) =>
  TOP + (1 - (value - view.low) / (view.high - view.low)) * (view.height - TOP - BOTTOM);
export const frameUnder = (view: View, x: number) =>
  view.start + ((x - LEFT) / (view.width - LEFT)) * (view.end - view.start);

/** A window just wide enough for the chosen keys, with a margin on either side. */
export function framing(first: number, last: number): FrameWindow {
  const margin = Math.max(LEAST_FRAMES / 2, (last - first) * 0.12);
  return { start: first - margin, end: last + margin };
}

/** The window nearer or farther about a frame, inside the whole; none where that is all of it. */
export function nearer(
  seen: FrameWindow,
  whole: FrameWindow,
  about: number,
  factor: number,
): FrameWindow | null {
  const long = Math.max(LEAST_FRAMES, (seen.end - seen.start) / factor);
  const share = (about - seen.start) / (seen.end - seen.start);
  return inside({ start: about - share * long, end: about + (1 - share) * long }, whole);
}

/** The window moved along, inside the whole; none where that is all of it. */
export const along = (seen: FrameWindow, whole: FrameWindow, frames: number): FrameWindow | null =>
  inside({ start: seen.start + frames, end: seen.end + frames }, whole);

function inside(seen: FrameWindow, whole: FrameWindow): FrameWindow | null {
  const long = seen.end - seen.start;
  if (long >= whole.end - whole.start - 1e-6) return null;
  const start = Math.max(whole.start, Math.min(whole.end - long, seen.start));
  return { start, end: start + long };
}

export interface OneKey {
  readonly curve: BenchCurve;
  readonly key: BenchKey;
}

/** The one chosen key of the shown curves, if it is one. */
export function onlyOne(curves: readonly BenchCurve[], keys: Chosen): OneKey | null {
  const found: OneKey[] = [];
  for (const curve of curves) {
    for (const time of keys[curve.channel] ?? []) {
      const key = curve.keys.find((other) => other.time === time);
      if (key) found.push({ curve, key });
    }
  }
  return found.length === 1 ? found[0] : null;
}

/** The own key of a curve that is nearest to a frame. */
export function nearestKey(
  curve: BenchCurve,
  frame: number,
): BenchCurve['keys'][number] | undefined {
  const own = curve.keys.filter((key) => key.own);
  const away = (key: { time: number }) => Math.abs(key.time - frame);
  return own.sort((a, b) => away(a) - away(b))[0];
}

/** What the traces reach over the frames that are seen. */
export function limitsOf(
  traces: readonly Trace[],
  seen: FrameWindow,
): { low: number; high: number } | null {
  const values = traces.flatMap((trace) => {
    const at = (frame: number) => (frame - trace.start) * trace.steps_a_frame;
    return trace.values.slice(Math.max(0, Math.floor(at(seen.start))), Math.ceil(at(seen.end)) + 1);
  });
  if (!values.length) return null;
  const low = values.reduce((least, value) => Math.min(least, value), Number.POSITIVE_INFINITY);
  const high = values.reduce((most, value) => Math.max(most, value), Number.NEGATIVE_INFINITY);
  const pad = Math.max(WRITTEN[traces[0].unit].least, (high - low) * 0.12);
  return { low: low - pad, high: high + pad };
}

const STEPS = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 45, 90, 180, 360, 720, 1800];

export function paintGrid(
  context: CanvasRenderingContext2D,
  view: View,
  unit: Unit,
  length: number,
): void {
  const { width, height, low, high } = view;
  context.font = '400 11px "Spline Sans Mono", monospace';
  context.textBaseline = 'middle';
  context.lineWidth = 1;
  const step = STEPS.find((size) => ((height - TOP) * size) / (high - low) > 26) ?? 3600;
  context.textAlign = 'right';
  for (let value = Math.ceil(low / step) * step; value <= high; value += step) {
    const y = yAt(view, value);
    context.fillStyle = Math.abs(value) < 1e-9 ? NON_PHOTO_BLUE : RULE_SOFT;
    context.fillRect(LEFT, y, width - LEFT, 1);
    context.fillStyle = GRAPHITE;
    const text = unit === 'degrees' ? `${Math.round(value * 10) / 10}°` : value.toFixed(2);
    context.fillText(text, LEFT - 5, y);
  }
  context.textAlign = 'center';
  const frames = [1, 2, 3, 6, 12, 24, 48, 120, 240, 1200].find(
    (every) => ((width - LEFT) * every) / (view.end - view.start) > 34,
  );
  const every = frames ?? 2400;
  for (let frame = 0; frame <= view.end; frame += every) {
    if (frame < view.start) continue;
    const x = xAt(view, frame);
    context.fillStyle = RULE_SOFT;
    context.fillRect(x, TOP - 6, 1, height);
    context.fillStyle = GRAPHITE;
    context.fillText(String(frame >= length ? frame - length : frame), x, 8);
  }
  context.strokeStyle = AFTER_TEXT;
  context.beginPath();
  const seam = xAt(view, length);
  for (let y = TOP; y < height; y += 10) {
    context.moveTo(seam - 2.5, y - 2.5);
    context.lineTo(seam + 2.5, y + 2.5);
    context.moveTo(seam + 2.5, y - 2.5);
    context.lineTo(seam - 2.5, y + 2.5);
  }
  context.stroke();
}

export function paintTrace(
  context: CanvasRenderingContext2D,
  view: View,
  trace: Trace,
  ink: string,
  length: number,
  isRate: boolean,
): void {
  const values = isRate ? trace.rates : trace.values;
  const scale = isRate ? rateScale(trace, view) : null;
  const y = (value: number) => (scale ? scale(value) : yAt(view, value));
  context.save();
  context.strokeStyle = ink;
  context.lineJoin = 'round';
  context.lineWidth = isRate ? 1 : 1.7;
  if (isRate) context.setLineDash([3, 3]);
  for (const faded of [false, true]) {
    context.globalAlpha = faded ? 0.3 : isRate ? 0.75 : 1;
    context.beginPath();
    let drawing = false;
    values.forEach((value, place) => {
      const frame = trace.start + place / trace.steps_a_frame;
      const outside = frame < 0 || frame > length;
      if (outside !== faded && frame !== 0 && frame !== length) {
        drawing = false;
        return;
      }
      const x = xAt(view, frame);
      if (drawing) context.lineTo(x, y(value));
      else context.moveTo(x, y(value));
      drawing = true;
    });
    context.stroke();
  }
  context.restore();
}

/** Rates have an axis of their own: nothing in the middle, the greatest at the edge. */
function rateScale(trace: Trace, view: View): (rate: number) => number {
  const most = trace.rates.reduce((best, rate) => Math.max(best, Math.abs(rate)), 1e-9);
  const middle = (TOP + view.height - BOTTOM) / 2;
  return (rate) => middle - (rate / most) * (middle - TOP - 4);
}

export function paintKeys(
  context: CanvasRenderingContext2D,
  view: View,
  curve: BenchCurve,
  ink: string,
  keys: Chosen,
  length: number,
): void {
  for (const key of curve.keys) {
    if (key.time > length) continue;
    const [x, y] = [xAt(view, key.time), yAt(view, key.value)];
    const isChosen = keys[curve.channel]?.includes(key.time) ?? false;
    if (isChosen) {
      context.strokeStyle = AMBER;
      context.lineWidth = 2;
      context.strokeRect(x - 5, y - 7, 10, 14);
    }
    context.globalAlpha = key.own ? 1 : 0.4;
    context.fillStyle = ink;
    context.fillRect(x - 1, y - 5, 2, 10);
    context.globalAlpha = 1;
  }
}

interface SlopeEnd {
  readonly side: Slope;
  readonly x: number;
  readonly y: number;
}

function slopeEnds(view: View, { key }: OneKey): SlopeEnd[] {
  const perFrame = (view.width - LEFT) / (view.end - view.start);
  const perValue = (view.height - TOP - BOTTOM) / (view.high - view.low);
  return (['in_slope', 'out_slope'] as const).flatMap((side) => {
    const slope = key[side];
    if (slope === null) return [];
    const way = side === 'in_slope' ? -1 : 1;
    const rise = -(slope * perValue) / perFrame;
    const long = Math.hypot(1, rise);
    return {
      side,
      x: xAt(view, key.time) + (way * HANDLE) / long,
      y: yAt(view, key.value) + (way * HANDLE * rise) / long,
    };
  });
}

export function paintSlopes(
  context: CanvasRenderingContext2D,
  view: View,
  chosen: OneKey,
  length: number,
) {
  if (chosen.key.time > length) return;
  const [x, y] = [xAt(view, chosen.key.time), yAt(view, chosen.key.value)];
  context.strokeStyle = AMBER;
  context.fillStyle = SHEET;
  context.lineWidth = 1.6;
  for (const end of slopeEnds(view, chosen)) {
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(end.x, end.y);
    context.stroke();
    context.beginPath();
    context.arc(end.x, end.y, 3.6, 0, Math.PI * 2);
    context.fill();
    context.stroke();
  }
}

export const slopeUnder = (view: View, chosen: OneKey, x: number, y: number): SlopeEnd | null =>
  slopeEnds(view, chosen).find((end) => Math.hypot(end.x - x, end.y - y) < REACH) ?? null;

export function keyUnder(
  view: View,
  curves: readonly BenchCurve[],
  x: number,
  y: number,
): OneKey | null {
  let best: OneKey | null = null;
  let nearest = REACH + 3;
  for (const curve of curves) {
    for (const key of curve.keys) {
      const away = Math.hypot(xAt(view, key.time) - x, yAt(view, key.value) - y);
      if (away < nearest) {
        nearest = away;
        best = { curve, key };
      }
    }
  }
  return best;
}
