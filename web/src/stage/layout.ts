/** One frame of one figure: its balls placed, projected and put in painting order. */

import type { Camera } from './camera';
import type { Costume, Piece, Unit } from './costume';
import { straysOf } from './ink';
import { type Outline, outlineOf } from './outline';
import type { Vec3 } from './vector';

/** Joints in the world at one frame, straight from a frame pack: x y z, and w x y z, per joint. */
export interface Pose {
  readonly positions: Float32Array;
  readonly rotations: Float32Array;
  /** How much longer each joint's own piece is along its axes, where any is. */
  readonly scales?: Float32Array;
  /** How far its ink strays in metres, and the number of the tracing, where it boils. */
  readonly ink?: { readonly metres: number; readonly tracing: number };
}

export interface Item {
  readonly unit: Unit;
  readonly depth: number;
  outlines: Outline[];
  box: readonly [number, number, number, number];
}

export interface Layout {
  readonly pose: Pose;
  readonly xs: Float64Array;
  readonly ys: Float64Array;
  readonly radii: Float64Array;
  readonly order: Item[];
}

const MOST_IN_ONE_HULL = 600;
const scratchX = new Float64Array(MOST_IN_ONE_HULL);
const scratchY = new Float64Array(MOST_IN_ONE_HULL);
const scratchR = new Float64Array(MOST_IN_ONE_HULL);

/** A vector of a joint's frame, turned into the world. */
export function turned(pose: Pose, joint: number, v: Vec3): Vec3 {
  const at = joint * 4;
  const [w, x, y, z] = [
    pose.rotations[at],
    pose.rotations[at + 1],
    pose.rotations[at + 2],
    pose.rotations[at + 3],
  ];
  const tx = 2 * (y * v[2] - z * v[1]);
  const ty = 2 * (z * v[0] - x * v[2]);
  const tz = 2 * (x * v[1] - y * v[0]);
  return [
    v[0] + w * tx + (y * tz - z * ty),
    v[1] + w * ty + (z * tx - x * tz),
    v[2] + w * tz + (x * ty - y * tx),
  ];
}

/** A point of a joint's frame, in the world. */
export function placed(pose: Pose, joint: number, offset: Vec3): Vec3 {
  const at = joint * 3;
  const v = turned(pose, joint, pose.scales ? drawnOut(pose.scales, at, offset) : offset);
  return [pose.positions[at] + v[0], pose.positions[at + 1] + v[1], pose.positions[at + 2] + v[2]];
}

const drawnOut = (scales: Float32Array, at: number, v: Vec3): Vec3 => [
  v[0] * scales[at],
  v[1] * scales[at + 1],
  v[2] * scales[at + 2],
];

/** A ball stays a ball, of the volume that its scaled piece has. */
const grown = (scales: Float32Array, joint: number): number =>
  Math.cbrt(scales[joint * 3] * scales[joint * 3 + 1] * scales[joint * 3 + 2]);

export function layOut(costume: Costume, pose: Pose, camera: Camera): Layout {
  const { xs, ys, radii, depths } = projected(costume, pose, camera);
  const order = sortedByDepth(costume, depths);
  liftUnder(costume, order);
  for (const item of order) item.box = boxOf(item.unit, xs, ys, radii);
  weldNeighbours(order);
  const layout = { pose, xs, ys, radii, order };
  for (const item of order) item.outlines = item.unit.pieces.map((p) => pieceOutline(layout, p));
  return layout;
}

/** Only the outlines that make a figure's silhouette; their order does not matter. */
export function silhouetteOutlines(costume: Costume, pose: Pose, camera: Camera): Outline[] {
  const balls = projected(costume, pose, camera);
  return costume.units.flatMap((unit) => {
    const { line, inside, tiny } = unit.hull;
    return line === 0 || inside || tiny ? [] : unit.pieces.map((p) => pieceOutline(balls, p));
  });
}

type Balls = Pick<Layout, 'xs' | 'ys' | 'radii'> & { readonly depths: Float64Array };

const kept = new WeakMap<Costume, Balls>();

/** Arrays for a costume's balls, used again for every figure that wears it: one is painted at a time. */
function ballsOf(costume: Costume): Balls {
  const known = kept.get(costume);
  if (known) return known;
  const array = () => new Float64Array(costume.balls.length);
  const fresh = { xs: array(), ys: array(), radii: array(), depths: array() };
  kept.set(costume, fresh);
  return fresh;
}

/** Boiling, a ball swells by a part of how far it strays. */
const SWELLS = 0.35;

/** Every ball on the canvas. */
function projected(costume: Costume, pose: Pose, camera: Camera): Balls {
  const count = costume.balls.length;
  const balls = ballsOf(costume);
  const { xs, ys, radii, depths } = balls;
  const { eye, forward, right, up, focal } = camera;
  const strays = pose.ink?.metres ? straysOf(costume, pose.ink) : null;
  for (let i = 0; i < count; i++) {
    const ball = costume.balls[i];
    let [x, y, z] = placed(pose, ball.joint, ball.offset);
    if (ball.towards >= 0) {
      const from = ball.joint * 3;
      const to = ball.towards * 3;
      x += (pose.positions[to] - pose.positions[from]) * ball.share;
      y += (pose.positions[to + 1] - pose.positions[from + 1]) * ball.share;
      z += (pose.positions[to + 2] - pose.positions[from + 2]) * ball.share;
    }
    x -= eye[0];
    y -= eye[1];
    z -= eye[2];
    const depth = Math.max(0.05, x * forward[0] + y * forward[1] + z * forward[2]);
    const scale = focal / depth;
    xs[i] = camera.centreX + (x * right[0] + y * right[1] + z * right[2]) * scale;
    ys[i] = camera.centreY - (x * up[0] + y * up[1] + z * up[2]) * scale;
    radii[i] = ball.radius * scale;
    if (pose.scales) radii[i] *= grown(pose.scales, ball.joint);
    if (strays) {
      const far = strays.metres * scale;
      xs[i] += strays.across[i] * far;
      ys[i] += strays.down[i] * far;
      radii[i] = Math.max(0.2 * radii[i], radii[i] + SWELLS * strays.down[i] * far);
    }
    depths[i] = depth;
  }
  return balls;
}

export function pieceOutline(layout: Pick<Layout, 'xs' | 'ys' | 'radii'>, piece: Piece): Outline {
  const count = piece.balls.length;
  for (let i = 0; i < count; i++) {
    const ball = piece.balls[i];
    scratchX[i] = layout.xs[ball];
    scratchY[i] = layout.ys[ball];
    scratchR[i] = layout.radii[ball];
  }
  return outlineOf(scratchX, scratchY, scratchR, count);
}

/**
 * The lit part of a piece: every ball (or ring) shrinks by `share` towards its own point nearest the
 * light, so that it always stays inside the hull.
 */
export function litOutline(
  layout: Layout,
  piece: Piece,
  light: readonly [number, number],
  share: number,
): Outline {
  const { xs, ys, radii } = layout;
  const [lx, ly] = light;
  for (const [start, end] of piece.sets) {
    let best = Number.NEGATIVE_INFINITY;
    let edgeX = 0;
    let edgeY = 0;
    for (let i = start; i < end; i++) {
      const ball = piece.balls[i];
      const x = xs[ball] + lx * radii[ball];
      const y = ys[ball] + ly * radii[ball];
      const value = x * lx + y * ly;
      if (value > best) {
        best = value;
        edgeX = x;
        edgeY = y;
      }
    }
    for (let i = start; i < end; i++) {
      const ball = piece.balls[i];
      scratchX[i] = xs[ball] + (edgeX - xs[ball]) * share;
      scratchY[i] = ys[ball] + (edgeY - ys[ball]) * share;
      scratchR[i] = radii[ball] * (1 - share);
    }
  }
  return outlineOf(scratchX, scratchY, scratchR, piece.balls.length);
}

/** Farthest first; the units of a group stay together. */
function sortedByDepth(costume: Costume, depths: Float64Array): Item[] {
  const groups = new Map<string, { items: Item[]; sum: number; bias: number }>();
  const blocks: { items: Item[]; depth: number }[] = [];
  for (const unit of costume.units) {
    const balls = unit.anchor.length ? unit.anchor : unit.pieces.flatMap((piece) => piece.balls);
    const mean = balls.reduce((sum, ball) => sum + depths[ball], 0) / balls.length;
    const depth = mean + (unit.hull.depth_bias ?? 0);
    const item: Item = { unit, depth, outlines: [], box: [0, 0, 0, 0] };
    const name = unit.hull.group;
    if (!name) {
      blocks.push({ items: [item], depth });
      continue;
    }
    const group = groups.get(name) ?? { items: [], sum: 0, bias: costume.groups[name] ?? 0 };
    group.items.push(item);
    group.sum += mean;
    groups.set(name, group);
  }
  for (const { items, sum, bias } of groups.values()) {
    items.sort((a, b) => b.depth - a.depth);
    blocks.push({ items, depth: sum / items.length + bias });
  }
  blocks.sort((a, b) => b.depth - a.depth);
  return blocks.flatMap((block) => block.items);
}

/** Whatever must lie beneath a named hull is painted just before it. */
function liftUnder(costume: Costume, order: Item[]): void {
  for (let pass = 0; pass < 3; pass++) {
    let moved = false;
    for (let k = 0; k < order.length; k++) {
      const name = order[k].unit.name;
      if (!costume.covers.has(name)) continue;
      const late = order.slice(k + 1).filter((item) => item.unit.hull.under?.includes(name));
      if (!late.length) continue;
      moved = true;
      for (const item of late) order.splice(order.indexOf(item), 1);
      order.splice(k, 0, ...late);
      k += late.length;
    }
    if (!moved) return;
  }
}

/** Paint welded parts next to each other wherever nothing that overlaps lies between. */
function weldNeighbours(order: Item[]): void {
  const clear = (item: Item, from: number, to: number) => {
    for (let i = from; i < to; i++) if (overlap(item.box, order[i].box)) return false;
    return true;
  };
  for (let i = 0; i < order.length; i++) {
    const weld = order[i].unit.weld;
    let j = i + 1;
    while (j < order.length && order[j].unit.weld !== weld) j++;
    if (j === order.length || j === i + 1) continue;
    if (clear(order[j], i + 1, j)) {
      order.splice(i + 1, 0, ...order.splice(j, 1));
    } else if (clear(order[i], i + 1, j)) {
      order.splice(j - 1, 0, ...order.splice(i, 1));
      i--;
    }
  }
}

type Box = Item['box'];

const overlap = (a: Box, b: Box): boolean =>
  a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];

function boxOf(unit: Unit, xs: Float64Array, ys: Float64Array, radii: Float64Array): Box {
  let [left, top, right, bottom] = [1e9, 1e9, -1e9, -1e9];
  for (const piece of unit.pieces) {
    for (const ball of piece.balls) {
      const reach = radii[ball] + 2;
      left = Math.min(left, xs[ball] - reach);
      top = Math.min(top, ys[ball] - reach);
      right = Math.max(right, xs[ball] + reach);
      bottom = Math.max(bottom, ys[ball] + reach);
    }
  }
  return [left, top, right, bottom];
}
