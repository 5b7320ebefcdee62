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

interface Corner {
  enter: readonly [number, number];
  leave: readonly [number, number];
  arc: readonly [number, number, number, number, number] | null;
}

/** Add an outline to a path, every circle grown by `grow`. Near-points become soft corners. */
export function traceOutline(outline: Outline, grow: number, path = new Path2D()): Path2D {
  const count = outline.length / ARC;
  if (count === 1) {
    const radius = Math.max(0.1, outline[2] + grow);
    path.moveTo(outline[0] + radius, outline[1]);
    path.arc(outline[0], outline[1], radius, 0, TURN);
    path.closePath();
    return path;
  }
  const corners = Array.from({ length: count }, (_, i) => corner(outline, i * ARC, grow));
  corners.forEach((here, i) => {
    if (here.arc) {
      if (!i) path.moveTo(...here.enter);
      path.arc(...here.arc);
      return;
    }
    const [x, y] = here.enter;
    const before = corners[(i + count - 1) % count].leave;
    const after = corners[(i + 1) % count].enter;
    const lengthBefore = Math.hypot(before[0] - x, before[1] - y) || 1;
    const lengthAfter = Math.hypot(after[0] - x, after[1] - y) || 1;
    const soft = Math.min(lengthBefore, lengthAfter, 40) * 0.5;
    const startX = x + ((before[0] - x) * soft) / lengthBefore;
    const startY = y + ((before[1] - y) * soft) / lengthBefore;
    if (i) path.lineTo(startX, startY);
    else path.moveTo(startX, startY);
    path.quadraticCurveTo(
      x,
      y,
      x + ((after[0] - x) * soft) / lengthAfter,
      y + ((after[1] - y) * soft) / lengthAfter,
    );
  });
  path.closePath();
  return path;
}

function corner(outline: Outline, k: number, grow: number): Corner {
  const [x, y, r, from, to] = outline.subarray(k, k + ARC);
  const radius = Math.max(0.05, r + grow);
  const at = (angle: number): readonly [number, number] => [
    x + radius * Math.cos(angle),
    y + radius * Math.sin(angle),
  ];
  // A small turn is a soft corner; the round end of a thin pole has to stay an arc.
  if (r * (to - from) < 3 && to - from < 1.4) {
    const point = at((from + to) / 2);
    return { enter: point, leave: point, arc: null };
  }
  return { enter: at(from), leave: at(to), arc: [x, y, radius, from, to] };
}
