/** Foot plants as prints on the ground: left solid blue, right hatched red. */

import type { PosedFigure } from '../api/framePack';
import { jointOf } from './arcs';
import { type Camera, project } from './camera';
import { PENCIL_BLUE, PENCIL_RED, SHEET } from './colour';
import type { Plant, StageScene } from './scene';
import { tracePoints } from './tracing';
import { add, scale, sub, unit, type Vec3 } from './vector';

const FRAMES_EITHER_SIDE = 72;
const HALF_WIDTH = 0.042;
const HEEL_METRES = 0.07;
const TOE_METRES = 0.06;
/** Without a toe joint a print has the length of a foot. */
const FOOT_METRES = 0.13;
const HATCHES = 6;

export function paintPrints(
  context: CanvasRenderingContext2D,
  camera: Camera,
  scene: StageScene,
  frame: number,
): void {
  context.save();
  context.lineJoin = 'round';
  for (const figure of scene.figures) {
    for (const plant of figure.plants) {
      const near =
        plant.end > frame - FRAMES_EITHER_SIDE && plant.start < frame + FRAMES_EITHER_SIDE;
      if (near) paintPrint(context, camera, scene, figure.id, plant);
    }
  }
  context.restore();
}

function paintPrint(
  context: CanvasRenderingContext2D,
  camera: Camera,
  scene: StageScene,
  figure: string,
  plant: Plant,
): void {
  const middle = Math.floor((plant.start + plant.end) / 2);
  const pose = scene.pose(figure, Math.max(0, Math.min(scene.length - 1, middle)));
  if (pose) paintFootprint(context, camera, pose, plant, inkOf(plant.side));
}

interface PrintInk {
  readonly fill: string;
  readonly line: string;
  readonly isHatched: boolean;
}

const inkOf = (side: string): PrintInk =>
  side === 'right'
    ? { fill: SHEET, line: PENCIL_RED, isHatched: true }
    : { fill: PENCIL_BLUE, line: PENCIL_BLUE, isHatched: false };

/** The print of one foot as it stands in a pose. */
export function paintFootprint(
  context: CanvasRenderingContext2D,
  camera: Camera,
  pose: PosedFigure,
  plant: Pick<Plant, 'foot' | 'toe'>,
  ink: PrintInk,
): void {
  if (plant.foot < 0) return;
  const ankle = onGround(jointOf(pose.positions, plant.foot));
  const heading = pose.travel[2];
  const ahead: Vec3 = [Math.sin(heading), 0, Math.cos(heading)];
  const toe =
    plant.toe < 0
      ? add(ankle, scale(ahead, FOOT_METRES))
      : onGround(jointOf(pose.positions, plant.toe));
  const along = unit(sub(toe, ankle));
  const aside: Vec3 = [along[2], 0, -along[0]];
  const point = (far: number, wide: number): Vec3 =>
    add(add(ankle, scale(along, far)), scale(aside, wide * HALF_WIDTH));
  const length = Math.hypot(...sub(toe, ankle));
  const outline = [
    point(-HEEL_METRES, 0),
    point(-HEEL_METRES * 0.7, 0.75),
    point(length * 0.4, 0.7),
    point(length * 0.95, 1.15),
    point(length + TOE_METRES * 0.8, 0.7),
    point(length + TOE_METRES, 0),
    point(length + TOE_METRES * 0.8, -0.8),
    point(length * 0.95, -1.15),
    point(length * 0.4, -0.7),
    point(-HEEL_METRES * 0.7, -0.75),
  ].map((corner) => project(camera, corner));
  if (outline.some(({ depth }) => depth < 0.2)) return;
  const shape = new Path2D();
  tracePoints(shape, outline);
  shape.closePath();
  context.globalAlpha = 0.9;
  context.fillStyle = ink.fill;
  context.fill(shape);
  context.lineWidth = 1.1;
  context.strokeStyle = ink.line;
  context.stroke(shape);
  if (!ink.isHatched) return;
  // Hatches end inside the outline, so that nothing has to be clipped.
  context.beginPath();
  for (let k = 1; k < HATCHES; k++) {
    const far = -HEEL_METRES + ((length + HEEL_METRES + TOE_METRES) * k) / HATCHES;
    const a = project(camera, point(far - 0.012, -0.7));
    const b = project(camera, point(far + 0.012, 0.7));
    context.moveTo(a.x, a.y);
    context.lineTo(b.x, b.y);
  }
  context.stroke();
}

const onGround = (point: Vec3): Vec3 => [point[0], 0, point[2]];
