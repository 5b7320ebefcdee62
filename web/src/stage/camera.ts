/** A perspective camera that orbits a target. */

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
