/** Guides on the stage, in non-photo blue: a cross in a ring, an arrow the way it heads, a stem to the ground. */

import { type Camera, project } from './camera';
import { BEFORE_TEXT, NON_PHOTO_BLUE, PENCIL_BLUE, SHEET } from './colour';
import { traceLine } from './ground';
import type { GuidePlace, StageGuide } from './scene';
import { add, scale, type Vec3 } from './vector';

const RING = 0.24;
const ARROW = 0.7;
const RING_STEPS = 20;

/** The tip of its arrow. */
export const tipOf = ([x, y, z, heading]: GuidePlace): Vec3 =>
  add([x, y, z], scale([Math.sin(heading), 0, Math.cos(heading)], ARROW));

export function paintGuides(
  context: CanvasRenderingContext2D,
  camera: Camera,
  guides: readonly StageGuide[],
  frame: number,
  chosen: string | null,
): void {
  context.save();
  context.lineCap = 'round';
  for (const guide of guides) {
    const place = guide.at(frame);
    if (!place) continue;
    const [x, y, z] = place;
    context.strokeStyle = guide.id === chosen ? PENCIL_BLUE : NON_PHOTO_BLUE;
    context.lineWidth = guide.id === chosen ? 2.2 : 1.8;
    context.beginPath();
    for (let step = 0; step < RING_STEPS; step++) {
      const [from, to] = [step, step + 1].map((k): Vec3 => {
        const turn = (2 * Math.PI * k) / RING_STEPS;
        return [x + RING * Math.sin(turn), y, z + RING * Math.cos(turn)];
      });
      traceLine(context, camera, from, to);
    }
    traceLine(context, camera, [x - RING, y, z], [x + RING, y, z]);
    traceLine(context, camera, [x, y, z - RING], [x, y, z + RING]);
    traceLine(context, camera, [x, y, z], tipOf(place));
    context.stroke();
    if (Math.abs(y) > 0.01) {
      context.setLineDash([4, 4]);
      context.beginPath();
      traceLine(context, camera, [x, y, z], [x, 0, z]);
      context.stroke();
      context.setLineDash([]);
    }
    const tip = project(camera, tipOf(place));
    context.beginPath();
    context.arc(tip.x, tip.y, 4.5, 0, Math.PI * 2);
    context.fillStyle = SHEET;
    context.fill();
    context.stroke();
    const name = project(camera, [x, y, z]);
    context.font = '500 12px "Spline Sans", sans-serif';
    context.lineWidth = 3;
    context.strokeStyle = SHEET;
    context.fillStyle = BEFORE_TEXT;
    context.strokeText(guide.name, name.x + 12, name.y + 18);
    context.fillText(guide.name, name.x + 12, name.y + 18);
  }
  context.restore();
}
