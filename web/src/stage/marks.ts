/** Figures' marks on the ground: a cross, and an arrow the way they start. */

import { type Camera, project } from './camera';
import { AMBER, GRAPHITE, INK, SHEET } from './colour';
import { traceLine } from './ground';
import type { Mark, StageScene } from './scene';
import { add, scale, type Vec3 } from './vector';

const ARM = 0.16;
const ARROW = 0.62;
const REACH_PIXELS = 15;

export interface MarkHit {
  readonly figure: string;
  readonly grip: 'place' | 'turn';
}

const tipOf = (mark: Mark): Vec3 =>
  add([mark[0], 0, mark[1]], scale([Math.sin(mark[2]), 0, Math.cos(mark[2])], ARROW));

export function paintMarks(
  context: CanvasRenderingContext2D,
  camera: Camera,
  scene: StageScene,
  watched: string | null,
): void {
  context.save();
  context.lineCap = 'round';
  for (const { id, mark } of scene.figures) {
    const [x, z] = mark;
    const tip = tipOf(mark);
    context.strokeStyle = id === watched ? INK : GRAPHITE;
    context.lineWidth = 1.8;
    context.beginPath();
    traceLine(context, camera, [x - ARM, 0, z - ARM], [x + ARM, 0, z + ARM]);
    traceLine(context, camera, [x - ARM, 0, z + ARM], [x + ARM, 0, z - ARM]);
    traceLine(context, camera, [x, 0, z], tip);
    context.stroke();
    const end = project(camera, tip);
    context.beginPath();
    context.arc(end.x, end.y, 5, 0, Math.PI * 2);
    context.fillStyle = AMBER;
    context.fill();
    context.strokeStyle = SHEET;
    context.lineWidth = 1.4;
    context.stroke();
  }
  context.restore();
}

/** The mark, or the tip of its arrow, under a point of the canvas. */
export function markUnder(camera: Camera, scene: StageScene, x: number, y: number): MarkHit | null {
  for (const { id, mark } of scene.figures) {
    const tip = project(camera, tipOf(mark));
    if (Math.hypot(tip.x - x, tip.y - y) < REACH_PIXELS) return { figure: id, grip: 'turn' };
    const place = project(camera, [mark[0], 0, mark[1]]);
    if (Math.hypot(place.x - x, place.y - y) < REACH_PIXELS) return { figure: id, grip: 'place' };
  }
  return null;
}

/** A mark drawn to a point of the ground: set down there, or turned towards it. */
export function drawnMark(mark: Mark, grip: MarkHit['grip'], ground: Vec3): Mark {
  if (grip === 'place') return [round(ground[0]), round(ground[2]), mark[2]];
  return [mark[0], mark[1], Math.atan2(ground[0] - mark[0], ground[2] - mark[1])];
}

const round = (metres: number): number => Math.round(metres * 100) / 100;
