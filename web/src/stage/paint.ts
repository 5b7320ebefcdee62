/** Painting one figure: in ink, or as a pencil ghost. */

import { type Camera, project } from './camera';
import { INK, mix, SHEET } from './colour';
import type { Costume, Stroke, Unit } from './costume';
import {
  type Item,
  type Layout,
  layOut,
  litOutline,
  type Pose,
  pieceOutline,
  placed,
  silhouetteOutlines,
  turned,
} from './layout';
import { type DrawnPart, paintPart } from './mouth';
import { isWithin, type Outline, traceOutline } from './outline';
import { type CardLook, paintCards } from './paintCards';
import { dot, smoothstep, sub, unit } from './vector';

/** From the upper left, as on the model sheet. */
const LIGHT = [-0.62, -0.78] as const;
const LIT_SHARE = 0.26;

export interface Ghost {
  readonly line: string;
  readonly soft: string;
  readonly fill: string;
}

/** A ghost's pencil: `faint` 0 is near the playhead, 1 far from it. */
export function ghostOf(colour: string, faint: number): Ghost {
  return {
    line: mix(colour, SHEET, 0.08 + 0.3 * faint),
    soft: mix(colour, SHEET, 0.4 + 0.28 * faint),
    fill: mix(SHEET, colour, 0.06 * (1 - faint)),
  };
}

/** Paint a figure. `weight` scales the lines (1 for the stage, less for small pictures). */
export function paintFigure(
  context: CanvasRenderingContext2D,
  costume: Costume,
  pose: Pose,
  camera: Camera,
  weight = 1,
  drawn: readonly ShownPart[] = [],
  cards: CardLook = AS_IT_IS,
): void {
  const layout = layOut(costume, pose, camera);
  const outer = 2.3 * weight;
  const inner = 1.2 * weight;
  context.save();
  context.lineJoin = context.lineCap = 'round';
  silhouette(context, layout.order, INK, outer, 0.28 * outer);
  eachWeld(layout.order, (items) => {
    const line = items[0].unit.hull.line ?? 1;
    if (line) {
      // Dropped slightly from the light, the line is heavier on the shadow side.
      const drop = 0.3 * inner;
      context.translate(-LIGHT[0] * drop, -LIGHT[1] * drop);
      context.fillStyle = INK;
      context.fill(traced(items, inner * line));
      context.translate(LIGHT[0] * drop, LIGHT[1] * drop);
    }
    paintFlesh(context, layout, items);
    for (const item of items) {
      openSeams(context, layout, item);
      for (const stroke of item.unit.strokes) paintStroke(context, layout, camera, stroke, weight);
      for (const one of drawn)
        if (isOn(one, item.unit.name)) paintPart(context, costume, pose, camera, one, one.drawing);
    }
  });
  for (const one of drawn)
    if (isOn(one, '')) paintPart(context, costume, pose, camera, one, one.drawing);
  context.restore();
  paintCards(context, costume, pose, camera, cards);
}

/** Nothing says another drawing than the first, or another order. */
const AS_IT_IS: CardLook = { shows: () => -1, lies: () => null };

/** A drawn part, and the number of the drawing that it shows. */
export interface ShownPart extends DrawnPart {
  readonly drawing: number;
}

/** Whether it is painted with this part of the dress, under what lies over that. */
const isOn = ({ charts }: ShownPart, name: string): boolean =>
  (charts[0]?.chart.place?.on ?? '') === name;

/** In play, with `passing`, only a ghost's silhouette: its inner lines are for looking at. */
export function paintGhost(
  context: CanvasRenderingContext2D,
  costume: Costume,
  pose: Pose,
  camera: Camera,
  ghost: Ghost,
  passing = false,
): void {
  paintCards(context, costume, pose, camera, AS_IT_IS, ghost.line);
  if (passing) {
    const outlines = silhouetteOutlines(costume, pose, camera);
    fillAll(context, outlines, ghost.line, 1.3);
    fillAll(context, outlines, ghost.fill, 0);
    return;
  }
  const layout = layOut(costume, pose, camera);
  const order = layout.order.filter((item) => !item.unit.hull.tiny);
  context.save();
  context.lineJoin = context.lineCap = 'round';
  silhouette(context, order, ghost.line, 1.3, 0);
  eachWeld(order, (items) => {
    const line = items[0].unit.hull.line ?? 1;
    if (line && !items[0].unit.hull.minor) {
      context.fillStyle = ghost.soft;
      context.fill(traced(items, 0.8 * line));
    }
    context.fillStyle = ghost.fill;
    context.fill(traced(items, 0));
  });
  context.restore();
}

function fillAll(
  context: CanvasRenderingContext2D,
  outlines: readonly Outline[],
  colour: string,
  grow: number,
): void {
  const path = new Path2D();
  for (const outline of outlines) traceOutline(outline, grow, path);
  context.fillStyle = colour;
  context.fill(path);
}

function silhouette(
  context: CanvasRenderingContext2D,
  order: readonly Item[],
  colour: string,
  width: number,
  drop: number,
): void {
  const path = new Path2D();
  for (const { unit: own, outlines } of order) {
    if (own.hull.line === 0 || own.hull.inside) continue;
    for (const outline of outlines) traceOutline(outline, width - drop * 0.3, path);
  }
  context.translate(-LIGHT[0] * drop, -LIGHT[1] * drop);
  context.fillStyle = colour;
  context.fill(path);
  context.translate(LIGHT[0] * drop, LIGHT[1] * drop);
}

/** Runs of neighbours in painting order that share an outline. */
function eachWeld(order: readonly Item[], paint: (items: readonly Item[]) => void): void {
  for (let start = 0; start < order.length; ) {
    let end = start + 1;
    while (end < order.length && order[end].unit.weld === order[start].unit.weld) end++;
    paint(order.slice(start, end));
    start = end;
  }
}

function traced(items: readonly Item[], grow: number): Path2D {
  const path = new Path2D();
  for (const item of items) for (const outline of item.outlines) traceOutline(outline, grow, path);
  return path;
}

function paintFlesh(
  context: CanvasRenderingContext2D,
  layout: Layout,
  items: readonly Item[],
): void {
  const first = items[0].unit;
  const base = traced(items, 0);
  context.fillStyle = first.hull.flat ? first.hull.fill : first.shade;
  context.fill(base);
  if (first.hull.hatch) {
    const hatch = hatching(context);
    if (hatch) {
      context.fillStyle = hatch;
      context.fill(base);
    }
  }
  if (first.hull.flat) return;
  const lit = new Path2D();
  for (const { unit: own } of items) {
    for (const piece of own.pieces) {
      traceOutline(litOutline(layout, piece, LIGHT, own.hull.lit ?? LIT_SHARE), 0, lit);
    }
  }
  context.fillStyle = first.hull.fill;
  context.fill(lit);
}

/** Open the seam toward an earlier painted neighbour of the chain, unless something covers it. */
function openSeams(context: CanvasRenderingContext2D, layout: Layout, item: Item): void {
  const { order, xs, ys, radii } = layout;
  const own: Unit = item.unit;
  const here = order.indexOf(item);
  for (const stub of own.stubs) {
    const before = order.findIndex(
      (other) => other.unit.name === own.name && other.unit.sequence === stub.neighbour,
    );
    if (before < 0 || before >= here) continue;
    const { at } = stub;
    const hidden = order
      .slice(before + 1, here)
      .some((other) => other.outlines.some((line) => isWithin(line, xs[at], ys[at], radii[at])));
    if (hidden) continue;
    context.fillStyle = own.shade;
    context.fill(traceOutline(pieceOutline(layout, stub.shade), 0));
    context.fillStyle = own.hull.fill;
    context.fill(traceOutline(litOutline(layout, stub.lit, LIGHT, own.hull.lit ?? LIT_SHARE), 0));
  }
}

function paintStroke(
  context: CanvasRenderingContext2D,
  layout: Layout,
  camera: Camera,
  stroke: Stroke,
  weight: number,
): void {
  const { detail } = stroke;
  const { pose } = layout;
  let facing = 1;
  if (detail.normal) {
    const normal = unit(turned(pose, stroke.joint, detail.normal as [number, number, number]));
    const anchor = stroke.points[0] ?? { joint: stroke.joint, offset: [0, 0, 0] as const };
    const at = placed(pose, anchor.joint, anchor.offset);
    const faces = dot(normal, unit(sub(camera.eye, at)));
    const limit = detail.limit ?? 0.08;
    if (faces < limit) return;
    facing = smoothstep(limit - 0.02, limit + 0.28, faces);
  }
  const points = stroke.points.map((p) => project(camera, placed(pose, p.joint, p.offset)));
  const colour = detail.colour ?? INK;
  if (stroke.dots) {
    for (const point of points) {
      const radius = Math.max(0.7, (detail.radius ?? 0) * point.scale);
      const width = radius * (detail.squash ?? 1) * (0.45 + 0.55 * facing);
      context.beginPath();
      context.ellipse(point.x, point.y, width, radius, 0, 0, Math.PI * 2);
      if (detail.line) {
        context.lineWidth = detail.line * 2 * weight;
        context.strokeStyle = INK;
        context.stroke();
      }
      context.fillStyle = detail.fill ?? INK;
      context.fill();
    }
    return;
  }
  traceStroke(context, points, detail.close ?? false, detail.smooth ?? false);
  if (detail.fill) {
    context.fillStyle = detail.fill;
    context.fill();
  }
  if (detail.line) {
    context.lineWidth = detail.line * (detail.fill ? 1 : 0.35 + 0.65 * facing) * weight;
    context.strokeStyle = colour;
    context.stroke();
  }
}

interface Point {
  readonly x: number;
  readonly y: number;
}

const between = (a: Point, b: Point): [number, number] => [(a.x + b.x) / 2, (a.y + b.y) / 2];

function traceStroke(
  context: CanvasRenderingContext2D,
  points: readonly Point[],
  close: boolean,
  smooth: boolean,
): void {
  const count = points.length;
  context.beginPath();
  if (close && smooth) {
    context.moveTo(...between(points[0], points[1 % count]));
    for (let i = 1; i <= count; i++) {
      const here = points[i % count];
      context.quadraticCurveTo(here.x, here.y, ...between(here, points[(i + 1) % count]));
    }
    context.closePath();
    return;
  }
  context.moveTo(points[0].x, points[0].y);
  for (let i = 1; i < count; i++) {
    const here = points[i];
    if (!smooth) context.lineTo(here.x, here.y);
    else if (i < count - 1) {
      const last = i === count - 2;
      const after = points[i + 1];
      const end: [number, number] = last ? [after.x, after.y] : between(here, after);
      context.quadraticCurveTo(here.x, here.y, ...end);
    }
  }
  if (close) context.closePath();
}

let hatchPattern: CanvasPattern | null = null;

function hatching(context: CanvasRenderingContext2D): CanvasPattern | null {
  if (hatchPattern) return hatchPattern;
  const tile = document.createElement('canvas');
  tile.width = tile.height = 6;
  const pen = tile.getContext('2d');
  if (!pen) return null;
  pen.strokeStyle = 'rgba(34, 48, 60, 0.32)';
  pen.lineWidth = 0.9;
  pen.beginPath();
  for (const shift of [-6, 0, 6]) {
    pen.moveTo(shift - 1, 7);
    pen.lineTo(shift + 7, -1);
  }
  pen.stroke();
  hatchPattern = context.createPattern(tile, 'repeat');
  return hatchPattern;
}
