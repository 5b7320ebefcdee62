/** The scene’s camera on the stage: its picture’s edge when seen through it, and itself when seen from elsewhere. */

import type { Lens } from '../api/framePack';
import { type Camera, lensCamera, PICTURE, pictureIn, project } from './camera';
import { AMBER, INK, NON_PHOTO_BLUE, SHEET } from './colour';
import { add, scale, type Vec3 } from './vector';

const MARK = 16;

/** What lies outside of the camera’s picture, faded, and the picture’s corners. */
export function paintAround(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
): void {
  const { x, y, width: wide, height: tall } = pictureIn(width, height);
  context.save();
  context.fillStyle = SHEET;
  context.globalAlpha = 0.72;
  context.beginPath();
  context.rect(0, 0, width, height);
  context.rect(x, y, wide, tall);
  context.fill('evenodd');
  context.globalAlpha = 1;
  context.strokeStyle = INK;
  context.lineWidth = 2;
  context.beginPath();
  for (const [cx, cy, dx, dy] of [
    [x + 1, y + 1, 1, 1],
    [x + wide - 1, y + 1, -1, 1],
    [x + 1, y + tall - 1, 1, -1],
    [x + wide - 1, y + tall - 1, -1, -1],
  ]) {
    context.moveTo(cx + dx * MARK, cy);
    context.lineTo(cx, cy);
    context.lineTo(cx, cy + dy * MARK);
  }
  context.stroke();
  context.restore();
}

/** What lies beside the camera’s picture in a print of other proportions: nothing. */
export function paintBeside(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
): void {
  const { x, y, width: wide, height: tall } = pictureIn(width, height);
  context.fillStyle = INK;
  context.beginPath();
  context.rect(0, 0, width, height);
  context.rect(x, y, wide, tall);
  context.fill('evenodd');
}

/** The camera from elsewhere: a dot where it stands, and the edges of what it sees, in non-photo blue. */
export function paintLens(
  context: CanvasRenderingContext2D,
  camera: Camera,
  lens: Lens | null,
): void {
  if (!lens) return;
  const own = lensCamera(lens, PICTURE, 1);
  const away = Math.hypot(...lens.look.map((at, axis) => at - lens.eye[axis]));
  const corner = (right: number, up: number): Vec3 =>
    add(
      lens.eye as Vec3,
      add(
        scale(own.forward, away),
        add(
          scale(own.right, (right * PICTURE * away) / (2 * own.focal)),
          scale(own.up, (up * away) / (2 * own.focal)),
        ),
      ),
    );
  const corners = [corner(-1, 1), corner(1, 1), corner(1, -1), corner(-1, -1)];
  const depth = (point: Vec3) =>
    camera.forward.reduce((sum, part, axis) => sum + part * (point[axis] - camera.eye[axis]), 0);
  const eye = lens.eye as Vec3;
  context.save();
  context.strokeStyle = NON_PHOTO_BLUE;
  context.lineWidth = 1.2;
  context.setLineDash([5, 4]);
  context.beginPath();
  if (corners.every((point) => depth(point) > 0.1)) {
    const drawn = corners.map((point) => project(camera, point));
    context.moveTo(drawn[3].x, drawn[3].y);
    for (const { x, y } of drawn) context.lineTo(x, y);
    if (depth(eye) > 0.1) {
      const from = project(camera, eye);
      for (const { x, y } of drawn) {
        context.moveTo(from.x, from.y);
        context.lineTo(x, y);
      }
    }
  }
  context.stroke();
  if (depth(eye) > 0.1) {
    const { x, y } = project(camera, eye);
    context.setLineDash([]);
    context.fillStyle = AMBER;
    context.strokeStyle = INK;
    context.beginPath();
    context.arc(x, y, 4, 0, Math.PI * 2);
    context.fill();
    context.stroke();
  }
  context.restore();
}
