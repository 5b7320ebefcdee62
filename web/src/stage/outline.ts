/**
 * Exact convex outlines of circles, from the upper envelope of their support functions.
 *
 * An outline is a flat list of arcs: centre x, centre y, radius, from angle, to angle. Growing every
 * radius alike keeps the tangents, so one outline serves the fill and both ink lines.
 */

import { clamp } from './vector';

export type Outline = Float64Array;

const TURN = Math.PI * 2;
const DIRECTIONS = 16;
const SAMPLES = Array.from({ length: DIRECTIONS }, (_, i) => {
  const angle = (i / DIRECTIONS) * TURN;
  return [Math.cos(angle), Math.sin(angle)] as const;
});
const ARC = 5;
const DEEPEST = 8;

/** Circles x, y, r (the first `count` of each) → their outline. */
export function outlineOf(
  xs: Float64Array,
  ys: Float64Array,
  rs: Float64Array,
  count: number,
): Outline {
  const turns = envelope(xs, ys, rs, count);
  const arcs = turns.length / 2;
  const outline = new Float64Array(arcs * ARC);
  for (let arc = 0; arc < arcs; arc++) {
    const circle = turns[2 * arc];
    const from = turns[2 * arc + 1];
    let to = turns[2 * ((arc + 1) % arcs) + 1];
    while (to < from) to += TURN;
    while (to - from > TURN) to -= TURN;
    outline.set([xs[circle], ys[circle], rs[circle], from, to], arc * ARC);
  }
  return outline;
}

/** [circle, the angle from which it is outermost, …] in turning order. */
function envelope(xs: Float64Array, ys: Float64Array, rs: Float64Array, count: number): number[] {
  const turns: number[] = [];
  if (!count) return turns;
  const reach = (i: number, c: number, s: number) => xs[i] * c + ys[i] * s + rs[i];
  const outermost = (c: number, s: number) => {
    let best = 0;
    for (let i = 1; i < count; i++) if (reach(i, c, s) > reach(best, c, s)) best = i;
    return best;
  };
  const refine = (i: number, j: number, depth: number) => {
    const dx = xs[j] - xs[i];
    const dy = ys[j] - ys[i];
    const apart = Math.hypot(dx, dy);
    if (apart < 1e-6) return;
    const angle = Math.atan2(dy, dx) - Math.acos(clamp((rs[i] - rs[j]) / apart, -1, 1));
    const c = Math.cos(angle);
    const s = Math.sin(angle);
    if (depth > 0) {
      const between = outermost(c, s);
      if (between !== i && between !== j && reach(between, c, s) > reach(i, c, s) + 0.01) {
        refine(i, between, depth - 1);
        refine(between, j, depth - 1);
        return;
      }
    }
    turns.push(j, angle);
  };
  const first = outermost(...SAMPLES[0]);
  let current = first;
  for (let k = 1; k <= DIRECTIONS; k++) {
    const next = k === DIRECTIONS ? first : outermost(...SAMPLES[k]);
    if (next !== current) refine(current, next, DEEPEST);
    current = next;
  }
  if (!turns.length) turns.push(first, 0);
  return turns;
}

/** Whether a point lies inside an outline, or within `margin` of it. */
export function isWithin(outline: Outline, x: number, y: number, margin: number): boolean {
  for (let k = 0; k < outline.length; k += ARC) {
    const c = Math.cos(outline[k + 3]);
    const s = Math.sin(outline[k + 3]);
    if ((x - outline[k]) * c + (y - outline[k + 1]) * s > outline[k + 2] + margin) return false;
  }
  return outline.length > ARC || Math.hypot(x - outline[0], y - outline[1]) < outline[2] + margin;
}

const MOST_CORNERS = 512;
const enterX = new Float64Array(MOST_CORNERS);
const enterY = new Float64Array(MOST_CORNERS);
const leaveX = new Float64Array(MOST_CORNERS);
const leaveY = new Float64Array(MOST_CORNERS);
const isSoft = new Uint8Array(MOST_CORNERS);
const MOST_SOFT_PIXELS = 40;

/**
 * Add an outline to a path, every circle grown by `grow`. Near-points become soft corners.
 * It runs thousands of times a frame, so it keeps its corners in arrays made once.
 */
export function traceOutline(outline: Outline, grow: number, path = new Path2D()): Path2D {
  const count = Math.min(MOST_CORNERS, outline.length / ARC);
  if (count === 1) {
    const radius = Math.max(0.1, outline[2] + grow);
    path.moveTo(outline[0] + radius, outline[1]);
    path.arc(outline[0], outline[1], radius, 0, TURN);
    path.closePath();
    return path;
  }
  for (let i = 0, k = 0; i < count; i++, k += ARC) {
    const r = outline[k + 2];
    const from = outline[k + 3];
    const to = outline[k + 4];
    const radius = Math.max(0.05, r + grow);
    // A small turn is a soft corner; the round end of a thin pole has to stay an arc.
    const soft = r * (to - from) < 3 && to - from < 1.4;
    isSoft[i] = soft ? 1 : 0;
    const first = soft ? (from + to) / 2 : from;
    enterX[i] = outline[k] + radius * Math.cos(first);
    enterY[i] = outline[k + 1] + radius * Math.sin(first);
    leaveX[i] = soft ? enterX[i] : outline[k] + radius * Math.cos(to);
    leaveY[i] = soft ? enterY[i] : outline[k + 1] + radius * Math.sin(to);
  }
  for (let i = 0, k = 0; i < count; i++, k += ARC) {
    if (!isSoft[i]) {
      if (!i) path.moveTo(enterX[i], enterY[i]);
      const radius = Math.max(0.05, outline[k + 2] + grow);
      path.arc(outline[k], outline[k + 1], radius, outline[k + 3], outline[k + 4]);
      continue;
    }
    const x = enterX[i];
    const y = enterY[i];
    const before = (i + count - 1) % count;
    const after = (i + 1) % count;
    const backX = leaveX[before] - x;
    const backY = leaveY[before] - y;
    const onX = enterX[after] - x;
    const onY = enterY[after] - y;
    const back = Math.hypot(backX, backY) || 1;
    const on = Math.hypot(onX, onY) || 1;
    const soft = Math.min(back, on, MOST_SOFT_PIXELS) * 0.5;
    const startX = x + (backX * soft) / back;
    const startY = y + (backY * soft) / back;
    if (i) path.lineTo(startX, startY);
    else path.moveTo(startX, startY);
    path.quadraticCurveTo(x, y, x + (onX * soft) / on, y + (onY * soft) / on);
  }
  path.closePath();
  return path;
}
