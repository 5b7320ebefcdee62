/** The hand on a chart that stands on a face: its card is drawn along, and its edge makes it wider. */

import type { Draw } from '../app/drawing';
import { type Camera, project } from './camera';
import { AMBER, SHEET } from './colour';
import type { Costume } from './costume';
import { type Pose, turned } from './layout';
import { cardOn, type MouthChart } from './mouth';
import type { StageHand } from './Stage';
import { dot, type Vec3 } from './vector';

export type FacePlace = NonNullable<MouthChart['place']>;

interface FaceOptions {
  readonly costume: Costume;
  readonly pose: Pose;
  /** The chart as it stands, or as it is being drawn. */
  readonly chart: MouthChart;
  readonly onPlace: (place: FacePlace, done: boolean) => void;
  readonly onCancel: () => void;
}

const KNOB = 6;
const REACH_PIXELS = 13;
/** How high a card is, beside how wide. */
const HIGH = 0.6;
const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
const [LEAST_METRES, MOST_METRES] = [0.001, 100];
const rounded = (metres: number) => Math.round(metres * 10_000) / 10_000;

export function faceHand({ costume, pose, chart, onPlace, onCancel }: FaceOptions): StageHand {
  const { place } = chart;
  const card = cardOn(costume, pose, chart, false);
  const seen = (camera: Camera) => {
    if (!card) return null;
    const spot = (x: number, y: number) => project(camera, card.at(x, y));
    return { middle: spot(0, 0), knob: spot(1, 0), left: spot(-1, 0), spot, joint: card.joint };
  };
  const moved = (camera: Camera, joint: number, dx: number, dy: number): FacePlace | null => {
    const at = seen(camera);
    if (!at || !place) return null;
    const metres = 1 / at.middle.scale;
    const way = camera.right.map(
      (right, k) => (right * dx - camera.up[k] * dy) * metres,
    ) as unknown as Vec3;
    const [x, y, z] = place.offset ?? [0, 0, 0];
    const along = AXES.map((axis) => dot(way, turned(pose, joint, axis)));
    const offset: Vec3 = [rounded(x + along[0]), rounded(y + along[1]), rounded(z + along[2])];
    return { ...place, offset: [...offset] };
  };
  return {
    grab: (camera, _frame, x, y) => {
      const at = seen(camera);
      if (!at || !place) return null;
      const half = Math.hypot(at.knob.x - at.middle.x, at.knob.y - at.middle.y);
      const from = Math.hypot(x - at.middle.x, y - at.middle.y);
      const isEdge = Math.hypot(x - at.knob.x, y - at.knob.y) <= REACH_PIXELS;
      if (!isEdge && from > half) return null;
      const to = (dx: number, dy: number): FacePlace | null => {
        if (!isEdge) return moved(camera, at.joint, dx, dy);
        const wide = Math.hypot(x + dx - at.middle.x, y + dy - at.middle.y) / from;
        const metres = (place.width_metres ?? 0.1) * wide;
        const width = rounded(Math.max(LEAST_METRES, Math.min(MOST_METRES, metres)));
        return { ...place, width_metres: width };
      };
      const show = (dx: number, dy: number, done: boolean) => {
        const wanted = to(dx, dy);
        if (wanted) onPlace(wanted, done);
        else onCancel();
      };
      const draw: Draw = {
        onMove: (dx, dy) => show(dx, dy, false),
        onDrop: (dx, dy) => show(dx, dy, true),
        onCancel,
      };
      return draw;
    },
    paint: (context, camera) => {
      const at = seen(camera);
      if (!at) return;
      const corners = [
        [-1, -HIGH],
        [1, -HIGH],
        [1, HIGH],
        [-1, HIGH],
      ].map(([x, y]) => at.spot(x, y));
      context.save();
      context.strokeStyle = AMBER;
      context.lineWidth = 1.5;
      context.setLineDash([5, 4]);
      context.beginPath();
      for (const [k, { x, y }] of corners.entries()) {
        if (k) context.lineTo(x, y);
        else context.moveTo(x, y);
      }
      context.closePath();
      context.stroke();
      context.setLineDash([]);
      context.fillStyle = SHEET;
      context.beginPath();
      context.arc(at.knob.x, at.knob.y, KNOB, 0, Math.PI * 2);
      context.fill();
      context.stroke();
      context.restore();
    },
  };
}
