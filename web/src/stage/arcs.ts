/** The path of a point over time, with a tick for each frame: arcs and spacing. */

import type { Camera } from './camera';
import { project } from './camera';
import { AMBER, PENCIL_BLUE, PENCIL_RED, SHEET } from './colour';
import type { ArcOf, StageScene } from './scene';
import { tracePoints } from './tracing';
import type { Vec3 } from './vector';

const FRAMES_EITHER_SIDE = 24;

export function paintArc(
  context: CanvasRenderingContext2D,
  camera: Camera,
  scene: StageScene,
  arc: ArcOf,
  frame: number,
): void {
  const at = (moment: number): { x: number; y: number } | null => {
    const round = ((moment % scene.length) + scene.length) % scene.length;
    if (!scene.goesRound && round !== moment) return null;
    const pose = scene.pose(arc.figure, round);
    return pose && project(camera, jointOf(pose.positions, arc.joint));
  };
  context.save();
  context.lineCap = context.lineJoin = 'round';
  for (const way of [-1, 1]) {
    context.strokeStyle = context.fillStyle = way < 0 ? PENCIL_BLUE : PENCIL_RED;
    const points = [at(frame)];
    for (let k = 1; k <= FRAMES_EITHER_SIDE; k++) points.push(at(frame + way * k));
    const known = points.filter((point) => point !== null);
    context.beginPath();
    tracePoints(context, known);
    context.lineWidth = 1.3;
    context.stroke();
    known.slice(1).forEach(({ x, y }, k) => {
      context.beginPath();
      context.arc(x, y, (k + 1) % 4 ? 1.7 : 2.9, 0, Math.PI * 2);
      context.fill();
    });
  }
  const here = at(frame);
  if (here) {
    context.beginPath();
    context.arc(here.x, here.y, 5, 0, Math.PI * 2);
    context.fillStyle = AMBER;
    context.strokeStyle = SHEET;
    context.lineWidth = 1.6;
    context.fill();
    context.stroke();
  }
  context.restore();
}

export const jointOf = (positions: Float32Array, joint: number): Vec3 => [
  positions[joint * 3],
  positions[joint * 3 + 1],
  positions[joint * 3 + 2],
];

const REACH_PIXELS = 16;

// Joints that are nearly as near as the nearest lie on one spot, as both ankles do from the side.
const SAME_SPOT_PIXELS = 6;

/** The joints on the spot under a point of the canvas, within reach; the nearest comes first. */
export function jointsUnder(
  camera: Camera,
  scene: StageScene,
  frame: number,
  x: number,
  y: number,
  reach = REACH_PIXELS,
): ArcOf[] {
  const found: { readonly joint: ArcOf; readonly away: number }[] = [];
  for (const { id } of scene.figures) {
    const pose = scene.pose(id, frame);
    for (let joint = 0; pose && joint * 3 < pose.positions.length; joint++) {
      const point = project(camera, jointOf(pose.positions, joint));
      const away = Math.hypot(point.x - x, point.y - y);
      if (away < reach) found.push({ joint: { figure: id, joint }, away });
    }
  }
  found.sort((a, b) => a.away - b.away);
  return found
    .filter(({ away }) => away <= found[0].away + SAME_SPOT_PIXELS)
    .map(({ joint }) => joint);
}

/** The joint nearest to a point of the canvas, within reach. */
export const jointUnder = (...asked: Parameters<typeof jointsUnder>): ArcOf | null =>
  jointsUnder(...asked)[0] ?? null;

/** Of the joints on one spot the one that a press means: the chosen one where it is among them, else
 * the nearest. Pressed again it gives way to `next`. */
export function meant<Joint>(
  onSpot: readonly Joint[],
  isChosen: (joint: Joint) => boolean,
): { readonly now: Joint; readonly next: Joint } | null {
  if (!onSpot.length) return null;
  const place = Math.max(0, onSpot.findIndex(isChosen));
  const wasChosen = isChosen(onSpot[place]);
  const now = onSpot[place];
  return { now, next: wasChosen ? onSpot[(place + 1) % onSpot.length] : now };
}
