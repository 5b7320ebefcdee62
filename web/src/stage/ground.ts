/** The ground: grid, soft shadow, and lines clipped in front of the camera. */

import { type Camera, project } from './camera';
import { AMBER, INK, NON_PHOTO_BLUE } from './colour';
import { dot, sub, type Vec3 } from './vector';

const NEAR = 0.2;

/** Add a line of the world to the current path, cut where it passes behind the camera. */
export function traceLine(
  context: CanvasRenderingContext2D,
  camera: Camera,
  a: Vec3,
  b: Vec3,
): void {
  const cut = clipped(camera, a, b);
  if (!cut) return;
  const from = project(camera, cut[0]);
  const to = project(camera, cut[1]);
  context.moveTo(from.x, from.y);
  context.lineTo(to.x, to.y);
}

function clipped(camera: Camera, a: Vec3, b: Vec3): readonly [Vec3, Vec3] | null {
  const depthA = dot(sub(a, camera.eye), camera.forward);
  const depthB = dot(sub(b, camera.eye), camera.forward);
  if (depthA < NEAR && depthB < NEAR) return null;
  if (depthA >= NEAR && depthB >= NEAR) return [a, b];
  const t = (NEAR - depthA) / (depthB - depthA);
  const cut = a.map((v, i) => v + (b[i] - v) * t) as unknown as Vec3;
  return depthA < NEAR ? [cut, b] : [a, cut];
}

/** Fill a flat shape of the world, cut where it passes behind the camera. */
export function fillShape(
  context: CanvasRenderingContext2D,
  camera: Camera,
  corners: readonly Vec3[],
  colour: string,
): void {
  context.beginPath();
  let started = false;
  corners.forEach((corner, i) => {
    const cut = clipped(camera, corner, corners[(i + 1) % corners.length]);
    if (!cut) return;
    for (const point of cut) {
      const { x, y } = project(camera, point);
      if (started) context.lineTo(x, y);
      else context.moveTo(x, y);
      started = true;
    }
  });
  context.closePath();
  context.fillStyle = colour;
  context.fill();
}

/** Squares of half a metre round a centre, whole metres heavier, in non-photo blue. */
export function paintGrid(
  context: CanvasRenderingContext2D,
  camera: Camera,
  centre: Vec3,
  /** Where the ground ends towards +x. */
  edgeX = Number.POSITIVE_INFINITY,
): void {
  const half = 6;
  const step = 0.5;
  const x0 = Math.round(centre[0] / (2 * step)) * 2 * step;
  const z0 = Math.round(centre[2] / (2 * step)) * 2 * step;
  context.save();
  context.strokeStyle = NON_PHOTO_BLUE;
  for (const major of [false, true]) {
    context.beginPath();
    context.lineWidth = major ? 1.1 : 0.6;
    context.globalAlpha = major ? 0.8 : 0.5;
    for (let k = Math.round(-half / step); k <= half / step; k++) {
      if ((k % 2 === 0) !== major) continue;
      const at = k * step;
      if (x0 + at <= edgeX) {
        traceLine(context, camera, [x0 + at, 0, z0 - half], [x0 + at, 0, z0 + half]);
      }
      const reach = Math.min(edgeX, x0 + half);
      traceLine(context, camera, [x0 - half, 0, z0 + at], [reach, 0, z0 + at]);
    }
    context.stroke();
  }
  context.restore();
}

/** Hatched shade under a figure, its strokes across the view. */
export function paintShade(
  context: CanvasRenderingContext2D,
  camera: Camera,
  at: Vec3,
  radiusX = 0.44,
  radiusZ = 0.3,
): void {
  const level = Math.hypot(camera.right[0], camera.right[2]) || 1;
  const c = camera.right[0] / level;
  const s = camera.right[2] / level;
  context.save();
  context.strokeStyle = INK;
  context.lineWidth = 1;
  context.globalAlpha = 0.34;
  context.beginPath();
  for (let i = -7; i <= 7; i++) {
    const z = (i / 7.5) * radiusZ;
    const width = radiusX * Math.sqrt(1 - (i / 7.5) ** 2);
    const ragged = ((((i + 9) * 7919) % 7) / 7) * 0.09;
    const point = (x: number): Vec3 => [at[0] + x * c - z * s, 0, at[2] + x * s + z * c];
    traceLine(context, camera, point(-width + ragged), point(width - 0.09 + ragged));
  }
  context.stroke();
  context.restore();
}

/** The point of the ground under a point of the canvas; none above the horizon. */
export function groundUnder(camera: Camera, x: number, y: number): Vec3 | null {
  const across = (x - camera.centreX) / camera.focal;
  const up = (camera.centreY - y) / camera.focal;
  const way = camera.forward.map(
    (ahead, axis) => ahead + camera.right[axis] * across + camera.up[axis] * up,
  );
  if (way[1] > -1e-4) return null;
  const far = -camera.eye[1] / way[1];
  return [camera.eye[0] + way[0] * far, 0, camera.eye[2] + way[2] * far];
}

/** A way on the ground, from a cross to an arrow. */
export function paintWay(
  context: CanvasRenderingContext2D,
  camera: Camera,
  from: Vec3,
  to: Vec3,
): void {
  const a = project(camera, from);
  const b = project(camera, to);
  const angle = Math.atan2(b.y - a.y, b.x - a.x);
  context.save();
  context.lineCap = 'round';
  context.lineWidth = 2.4;
  context.strokeStyle = AMBER;
  context.setLineDash([7, 5]);
  context.beginPath();
  context.moveTo(a.x, a.y);
  context.lineTo(b.x, b.y);
  context.stroke();
  context.setLineDash([]);
  context.beginPath();
  context.moveTo(a.x - 5, a.y - 5);
  context.lineTo(a.x + 5, a.y + 5);
  context.moveTo(a.x - 5, a.y + 5);
  context.lineTo(a.x + 5, a.y - 5);
  for (const side of [-1, 1]) {
    context.moveTo(b.x, b.y);
    context.lineTo(
      b.x - 12 * Math.cos(angle + 0.5 * side),
      b.y - 12 * Math.sin(angle + 0.5 * side),
    );
  }
  context.stroke();
  context.restore();
}
