/** One pose alone on paper, seen from a turning camera; its travel stays under it. */

import type { FramePack } from '../api/framePack';
import { poseIn } from '../api/framePack';
import { orbitCamera } from './camera';
import { SHEET } from './colour';
import type { Costume } from './costume';
import { paintGrid, paintShade } from './ground';
import { paintFigure } from './paint';
import { sharp } from './sharp';

const heights = new WeakMap<FramePack, number>();

export function paintTurning(
  canvas: HTMLCanvasElement,
  costume: Costume,
  pack: FramePack,
  frame: number,
  yaw: number,
): void {
  const pose = poseIn(pack, 'figure', frame);
  const drawn = pose && sharp(canvas);
  if (!drawn) return;
  const { context, width, height } = drawn;
  context.fillStyle = SHEET;
  context.fillRect(0, 0, width, height);
  const tall = tallestIn(pack);
  const target = [pose.travel[0], tall * 0.5, pose.travel[1]] as const;
  const camera = orbitCamera({ yaw, pitch: 9, distance: tall * 3.1 }, target, width, height);
  paintGrid(context, camera, [target[0], 0, target[2]]);
  paintShade(context, camera, [target[0], 0, target[2]]);
  paintFigure(context, costume, pose, camera, Math.min(1, height / 300));
}

function tallestIn(pack: FramePack): number {
  const known = heights.get(pack);
  if (known) return known;
  let tall = 0.3;
  const first = poseIn(pack, 'figure', 0)?.positions ?? new Float32Array();
  for (let at = 1; at < first.length; at += 3) tall = Math.max(tall, first[at] * 1.12);
  heights.set(pack, tall);
  return tall;
}
