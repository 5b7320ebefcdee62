/** A perspective camera that orbits a target. */

import type { Lens } from '../api/framePack';
import { clamp, cross, dot, sub, unit, type Vec3 } from './vector';

export interface Camera {
  readonly eye: Vec3;
  readonly forward: Vec3;
  readonly right: Vec3;
  readonly up: Vec3;
  /** Pixels per unit of slope. */
  readonly focal: number;
  readonly centreX: number;
  readonly centreY: number;
}

/** Where the camera looks from: degrees round the target and above the ground, metres away. */
export interface Orbit {
  readonly yaw: number;
  readonly pitch: number;
  readonly distance: number;
}

export interface Projected {
  readonly x: number;
  readonly y: number;
  /** Pixels per metre there. */
  readonly scale: number;
  readonly depth: number;
}

export type ViewName = 'Three-quarter' | 'Side' | 'Front' | 'Plan';

/** Yaw 0 looks at the front; the side view has the figure walk to the right. */
export const VIEWS: Readonly<Record<ViewName, Orbit>> = {
  'Three-quarter': { yaw: -58, pitch: 9, distance: 7 },
  Side: { yaw: -90, pitch: 3, distance: 7 },
  Front: { yaw: 0, pitch: 5, distance: 7 },
  Plan: { yaw: -90, pitch: 89.9, distance: 8 },
};

const NEAR = 0.05;
/** How much of the stage's height two metres fill at seven metres' distance. */
const LENS = 2.05;

export function orbitCamera(orbit: Orbit, target: Vec3, width: number, height: number): Camera {
  const yaw = (orbit.yaw * Math.PI) / 180;
  const pitch = (clamp(orbit.pitch, -5, 89.9) * Math.PI) / 180;
  const level = Math.cos(pitch);
  const back: Vec3 = [Math.sin(yaw) * level, Math.sin(pitch), Math.cos(yaw) * level];
  const eye: Vec3 = [
    target[0] + back[0] * orbit.distance,
    target[1] + back[1] * orbit.distance,
    target[2] + back[2] * orbit.distance,
  ];
  const upward: Vec3 = [-Math.sin(yaw) * Math.sin(pitch), level, -Math.cos(yaw) * Math.sin(pitch)];
  const forward = unit(sub(target, eye));
  const right = unit(cross(forward, upward));
  return {
    eye,
    forward,
    right,
    up: cross(right, forward),
    focal: height * LENS,
    centreX: width / 2,
    centreY: height * 0.52,
  };
}

/** The camera’s picture is so much wider than high. */
export const PICTURE = 16 / 9;

/** The camera’s picture in a canvas: as large as it goes, in the middle. */
export function pictureIn(width: number, height: number) {
  const tall = Math.min(height, width / PICTURE);
  const wide = tall * PICTURE;
  return { x: (width - wide) / 2, y: (height - tall) / 2, width: wide, height: tall };
}

/** The scene’s camera, as it fills its picture. */
export function lensCamera({ eye, look, roll, zoom }: Lens, width: number, height: number): Camera {
  const forward = unit(sub(look, eye));
  // Straight up or down it has no horizon to be level with.
  const isUpright = Math.abs(forward[1]) > 0.9999;
  const level = unit(cross(forward, isUpright ? [1, 0, 0] : [0, 1, 0]));
  const above = cross(level, forward);
  const turn = (roll * Math.PI) / 180;
  const mix = (a: Vec3, b: Vec3, c: number, s: number): Vec3 => [
    a[0] * c + b[0] * s,
    a[1] * c + b[1] * s,
    a[2] * c + b[2] * s,
  ];
  const picture = pictureIn(width, height);
  return {
    eye,
    forward,
    right: mix(level, above, Math.cos(turn), Math.sin(turn)),
    up: mix(above, level, Math.cos(turn), -Math.sin(turn)),
    focal: picture.height * LENS * zoom,
    centreX: width / 2,
    centreY: height / 2,
  };
}

/** The orbit from which the scene’s camera sees what it looks at. */
export function orbitOf({ eye, look }: Lens): Orbit {
  const back = sub(eye, look);
  const distance = Math.hypot(...back);
  return {
    yaw: (Math.atan2(back[0], back[2]) * 180) / Math.PI,
    pitch: (Math.asin(clamp(back[1] / distance, -1, 1)) * 180) / Math.PI,
    distance,
  };
}

export function project(camera: Camera, point: Vec3): Projected {
  const away = sub(point, camera.eye);
  const depth = Math.max(NEAR, dot(away, camera.forward));
  const scale = camera.focal / depth;
  return {
    x: camera.centreX + dot(away, camera.right) * scale,
    y: camera.centreY - dot(away, camera.up) * scale,
    scale,
    depth,
  };
}

/** The height of the horizon on the canvas; none when the camera looks (nearly) straight down. */
export function horizon(camera: Camera): number | null {
  const level: Vec3 = unit([camera.forward[0], 0, camera.forward[2]]);
  const ahead = dot(level, camera.forward);
  if (ahead < 0.2) return null;
  return camera.centreY - (camera.focal * dot(level, camera.up)) / ahead;
}
