/** A picture laid under the stage, to be traced. */

import { type Camera, type Orbit, project } from './camera';
import { add, scale } from './vector';

export interface Underlay {
  readonly image: CanvasImageSource;
  readonly opacity: number;
  /** Width over height. */
  readonly shape: number;
  readonly heightMetres: number;
  /** The middle of its foot from the origin, as the view sees it. */
  readonly rightMetres: number;
  readonly upMetres: number;
  /** The view that it was laid under; from any other it does not show. */
  readonly yaw: number;
  readonly pitch: number;
}

const ALIKE_DEGREES = 0.5;

export function isUnder(orbit: Orbit, laid: Pick<Underlay, 'yaw' | 'pitch'>): boolean {
  const apart = Math.abs(((((orbit.yaw - laid.yaw) % 360) + 540) % 360) - 180);
  return apart < ALIKE_DEGREES && Math.abs(orbit.pitch - laid.pitch) < ALIKE_DEGREES;
}

/** Left, top, width and height on the canvas. */
export function frameOf(camera: Camera, laid: Underlay): readonly [number, number, number, number] {
  const foot = add(scale(camera.right, laid.rightMetres), scale(camera.up, laid.upMetres));
  const { x, y, scale: pixels } = project(camera, foot);
  const height = laid.heightMetres * pixels;
  const width = height * laid.shape;
  return [x - width / 2, y - height, width, height];
}

export function paintUnderlay(
  context: CanvasRenderingContext2D,
  camera: Camera,
  orbit: Orbit,
  laid: Underlay,
): void {
  if (!isUnder(orbit, laid)) return;
  context.save();
  context.globalAlpha = laid.opacity;
  context.drawImage(laid.image, ...frameOf(camera, laid));
  context.restore();
}
