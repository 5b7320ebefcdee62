/** Mouths: strokes of the pen that stand on a card, flat on paper or on a figure's face. */

import type { Schemas } from '../api/client';
import { type Camera, project } from './camera';
import type { Costume } from './costume';
import { type Pose, placed, turned } from './layout';
import { clamp, dot, sub, unit, type Vec3 } from './vector';

export type Mouth = Schemas['Mouth'];
export type MouthChart = Schemas['MouthChart'];
type Stroke = Mouth['strokes'][number];

/** A chart that a figure's part is drawn by, and how far round from its face on it is seen. */
export interface SeenChart {
  readonly chart: MouthChart;
  readonly reachDegrees: number;
  /** The pictures of its mouths, by their files. */
  readonly pictures?: MouthPictures;
}

export type MouthPictures = ReadonlyMap<string, HTMLImageElement>;

/** A part of a figure that is drawn: its charts, the one whose numbers count first. */
export interface DrawnPart {
  readonly part: string;
  readonly charts: readonly SeenChart[];
}

interface Point {
  readonly x: number;
  readonly y: number;
}

/** How strokes are painted: as they are, or in one pencil. */
export interface MouthLook {
  readonly pencil?: string;
  readonly weight?: number;
}

/** A picture is what it is: before and after it is only fainter. */
const PENCILLED = 0.5;
const LEAST_LINE = 0.5;
/** An open line swells in its middle and thins towards its ends, as a brush leaves it. */
const TAPER = 0.22;
const THINNEST = 0.4;

/** Paint a mouth: its picture, or its strokes. */
export function paintMouth(
  context: CanvasRenderingContext2D,
  mouth: Mouth,
  pictures: MouthPictures | undefined,
  at: (x: number, y: number) => Point,
  half: number,
  look: MouthLook = {},
): void {
  const image = mouth.picture && pictures?.get(mouth.picture.file);
  if (!mouth.picture || !image) {
    paintStrokes(context, mouth.strokes, at, half, look);
    return;
  }
  const wide = mouth.picture.width ?? 1;
  const tall = (wide * image.naturalHeight) / image.naturalWidth;
  const [dx, dy] = mouth.picture.shift ?? [0, 0];
  const [corner, right, below] = [
    at(dx - wide, dy + tall),
    at(dx + wide, dy + tall),
    at(dx - wide, dy - tall),
  ];
  context.save();
  if (look.pencil) context.globalAlpha = PENCILLED;
  context.transform(
    (right.x - corner.x) / image.naturalWidth,
    (right.y - corner.y) / image.naturalWidth,
    (below.x - corner.x) / image.naturalHeight,
    (below.y - corner.y) / image.naturalHeight,
    corner.x,
    corner.y,
  );
  context.drawImage(image, 0, 0);
  context.restore();
}

/** Paint strokes; `at` says where a point of the chart lies, `half` how many pixels its half width takes. */
function paintStrokes(
  context: CanvasRenderingContext2D,
  strokes: readonly Stroke[],
  at: (x: number, y: number) => Point,
  half: number,
  { pencil, weight = 1 }: MouthLook = {},
): void {
  context.save();
  context.lineJoin = context.lineCap = 'round';
  for (const stroke of strokes) {
    const points = stroke.points.map(([x, y]) => at(x, y));
    const { fill, closed, smooth } = stroke;
    if (closed || fill) {
      trace(context, points, smooth ?? true);
      if (fill && !pencil) {
        context.fillStyle = fill;
        context.fill();
      }
    }
    const width = ((stroke.line ?? 0) / 100) * half * weight;
    if (!width) continue;
    context.strokeStyle = context.fillStyle = pencil ?? stroke.colour ?? '#22303C';
    context.lineWidth = Math.max(LEAST_LINE, width);
    if (closed) context.stroke();
    else brush(context, points, Math.max(LEAST_LINE, width));
  }
  context.restore();
}

const between = (a: Point, b: Point): Point => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });

function trace(
  context: CanvasRenderingContext2D,
  points: readonly Point[],
  isSmooth: boolean,
): void {
  context.beginPath();
  const count = points.length;
  const first = isSmooth ? between(points[0], points[1 % count]) : points[0];
  context.moveTo(first.x, first.y);
  for (let i = 1; i <= count; i++) {
    const here = points[i % count];
    const after = between(here, points[(i + 1) % count]);
    if (isSmooth) context.quadraticCurveTo(here.x, here.y, after.x, after.y);
    else context.lineTo(here.x, here.y);
  }
  context.closePath();
}

function brush(context: CanvasRenderingContext2D, points: readonly Point[], width: number): void {
  const last = points.length - 1;
  if (last < 2) {
    context.beginPath();
    context.moveTo(points[0].x, points[0].y);
    if (last) context.lineTo(points[last].x, points[last].y);
    context.stroke();
    return;
  }
  const sides: [Point[], Point[]] = [[], []];
  for (const [i, here] of points.entries()) {
    const before = points[Math.max(0, i - 1)];
    const after = points[Math.min(last, i + 1)];
    const length = Math.hypot(after.x - before.x, after.y - before.y) || 1;
    const [dx, dy] = [(after.x - before.x) / length, (after.y - before.y) / length];
    const near = clamp(Math.min(i, last - i) / last / TAPER, 0, 1);
    const own = (width / 2) * (THINNEST + (1 - THINNEST) * near * near * (3 - 2 * near));
    sides[0].push({ x: here.x - dy * own, y: here.y + dx * own });
    sides[1].push({ x: here.x + dy * own, y: here.y - dx * own });
  }
  context.beginPath();
  for (const [i, point] of [...sides[0], ...sides[1].reverse()].entries()) {
    if (i) context.lineTo(point.x, point.y);
    else context.moveTo(point.x, point.y);
  }
  context.closePath();
  context.fill();
}

/** Where a chart's card stands on a pose: a point of the card in the world, and where the card faces. */
export function cardOn(costume: Costume, pose: Pose, chart: MouthChart, mirrored: boolean) {
  const { place } = chart;
  const joint = place ? costume.figure.joints.findIndex((one) => one.name === place.joint) : -1;
  if (!place || joint < 0) return null;
  const side = mirrored ? -1 : 1;
  const heading = (side * (place.heading_degrees ?? 0) * Math.PI) / 180;
  const tilt = ((place.tilt_degrees ?? 0) * Math.PI) / 180;
  const [ox, oy, oz] = place.offset ?? [0, 0, 0];
  const across: Vec3 = [Math.cos(heading), 0, -Math.sin(heading)];
  const faces: Vec3 = [
    Math.sin(heading) * Math.cos(tilt),
    Math.sin(tilt),
    Math.cos(heading) * Math.cos(tilt),
  ];
  const upward: Vec3 = [
    -Math.sin(heading) * Math.sin(tilt),
    Math.cos(tilt),
    -Math.cos(heading) * Math.sin(tilt),
  ];
  const half = (place.width_metres ?? 0.1) / 2;
  const at = (x: number, y: number): Vec3 => {
    const [u, v] = [side * x * half, y * half];
    return placed(pose, joint, [
      side * ox + across[0] * u + upward[0] * v,
      oy + across[1] * u + upward[1] * v,
      oz + across[2] * u + upward[2] * v,
    ]);
  };
  return { at, faces: unit(turned(pose, joint, faces)), half, joint };
}

const LEAST_FACING = 0.06;

/** What a drawn part shows, as it is seen from here; nothing where it is turned away or has no place. */
export function paintPart(
  context: CanvasRenderingContext2D,
  costume: Costume,
  pose: Pose,
  camera: Camera,
  { charts }: DrawnPart,
  drawing: number,
  look: MouthLook = {},
): void {
  const key = charts[0]?.chart.mouths.find((one) => one.drawing === drawing)?.key;
  if (!key) return;
  const seen = chartSeen(costume, pose, camera, charts);
  if (!seen) return;
  const { chart, pictures, isMirrored } = seen;
  const card = cardOn(costume, pose, chart, isMirrored);
  const own = chart.mouths.find((one) => one.key === key);
  const shown = own ?? charts[0].chart.mouths.find((one) => one.key === key);
  if (!card || !shown) return;
  const middle = card.at(0, 0);
  if (dot(card.faces, unit(sub(camera.eye, middle))) < LEAST_FACING) return;
  const half = card.half * project(camera, middle).scale;
  const at = (x: number, y: number) => project(camera, card.at(x, y));
  paintMouth(context, shown, own ? pictures : charts[0].pictures, at, half, look);
}

/** The chart for the side that the camera looks from: of those that reach so far round, the one that reaches
 * least; and whether it is mirrored, seen from the figure's right. */
export function chartSeen(
  costume: Costume,
  pose: Pose,
  camera: Camera,
  charts: readonly SeenChart[],
): (SeenChart & { readonly isMirrored: boolean }) | null {
  const first = charts.find(({ chart }) => chart.place);
  const joint = costume.figure.joints.findIndex((one) => one.name === first?.chart.place?.joint);
  if (!first || joint < 0) return null;
  const away = unit(sub(camera.eye, placed(pose, joint, [0, 0, 0])));
  const ahead = dot(away, turned(pose, joint, [0, 0, 1]));
  const left = dot(away, turned(pose, joint, [1, 0, 0]));
  const round = (Math.atan2(Math.abs(left), ahead) * 180) / Math.PI;
  const reaching = charts
    .filter(({ chart, reachDegrees }) => chart.place && round <= reachDegrees)
    .sort((a, b) => a.reachDegrees - b.reachDegrees);
  const widest = [...charts]
    .filter(({ chart }) => chart.place)
    .sort((a, b) => b.reachDegrees - a.reachDegrees)[0];
  const picked = reaching[0] ?? widest;
  const turns = picked.chart.view === 'three-quarter' || picked.chart.view === 'side';
  return { ...picked, isMirrored: turns && left < 0 };
}
