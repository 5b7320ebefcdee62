/** Two poses where one stint could hand over to the next: ghosts, the feet they stand on, their headings. */

import type { PosedFigure } from '../api/framePack';
import { jointOf } from './arcs';
import { type Camera, project } from './camera';
import { AFTER_TEXT, AMBER, PENCIL_BLUE, PENCIL_RED, SHEET } from './colour';
import { traceLine } from './ground';
import { ghostOf, paintGhost } from './paint';
import { paintFootprint } from './prints';
import type { Mark, Plant, StagePair, StageScene } from './scene';
import { add, scale, sub, type Vec3 } from './vector';

const ARROW = 0.62;
const REACH_PIXELS = 15;
/** Feet nearer to each other than this lie on each other. */
const APART_METRES = 0.002;

export function paintPair(
  context: CanvasRenderingContext2D,
  camera: Camera,
  scene: StageScene,
  pair: StagePair,
  fromAbove: boolean,
): void {
  const figure = scene.figures.find(({ id }) => id === pair.figure);
  if (!figure) return;
  context.save();
  context.lineJoin = context.lineCap = 'round';
  for (const [pose, colour] of [
    [pair.before, PENCIL_BLUE],
    [pair.after, PENCIL_RED],
  ] as const) {
    for (const foot of feetOf(figure.plants, pair.planted)) {
      const ink = { fill: SHEET, line: colour, isHatched: foot.side === 'right' };
      paintFootprint(context, camera, pose, foot, ink);
    }
    paintGhost(context, figure.costume, pose, camera, ghostOf(colour, 0));
  }
  for (const foot of feetOf(figure.plants, pair.planted)) paintApart(context, camera, pair, foot);
  if (fromAbove) {
    paintHeading(context, camera, pair.before, PENCIL_BLUE);
    paintHeading(context, camera, pair.after, PENCIL_RED);
    const tip = project(camera, tipOf(pair.after));
    context.beginPath();
    context.arc(tip.x, tip.y, 5, 0, Math.PI * 2);
    context.fillStyle = AMBER;
    context.fill();
    context.strokeStyle = SHEET;
    context.stroke();
  }
  context.restore();
}

export interface PairHit {
  readonly grip: 'place' | 'turn';
  readonly root: Mark;
}

/** The incoming figure's root, or the tip of its arrow, under a point of the canvas. */
export function pairUnder(camera: Camera, pair: StagePair, x: number, y: number): PairHit | null {
  const near = (point: Vec3) => {
    const at = project(camera, point);
    return Math.hypot(at.x - x, at.y - y) < REACH_PIXELS;
  };
  const [atX, atZ, heading] = pair.after.travel;
  const root: Mark = [atX, atZ, heading];
  if (near(tipOf(pair.after))) return { grip: 'turn', root };
  return near(groundOf(pair.after)) ? { grip: 'place', root } : null;
}

/** The feet that both stand on; of one in the air, both. */
function feetOf(plants: readonly Plant[], planted: StagePair['planted']): Plant[] {
  const sides = planted === 'left' || planted === 'right' ? [planted] : ['left', 'right'];
  return sides.flatMap((side) => plants.find((plant) => plant.side === side) ?? []);
}

/** From the one foot to the other, and how far that is. */
function paintApart(
  context: CanvasRenderingContext2D,
  camera: Camera,
  pair: StagePair,
  { foot, toe }: Plant,
): void {
  const joint = toe < 0 ? foot : toe;
  if (joint < 0) return;
  const [from, to] = [pair.before, pair.after].map((pose) => {
    const [x, , z] = jointOf(pose.positions, joint);
    return [x, 0, z] as Vec3;
  });
  const metres = Math.hypot(...sub(to, from));
  const end = project(camera, to);
  if (metres > APART_METRES) {
    context.beginPath();
    traceLine(context, camera, from, to);
    context.strokeStyle = PENCIL_RED;
    context.lineWidth = 1.6;
    context.stroke();
  }
  const text = `${(metres * 100).toFixed(1)} cm`;
  context.font = '500 11px "Spline Sans Mono", monospace';
  context.textAlign = 'left';
  context.textBaseline = 'middle';
  const width = context.measureText(text).width + 8;
  context.fillStyle = SHEET;
  context.fillRect(end.x + 9, end.y - 8, width, 16);
  context.fillStyle = AFTER_TEXT;
  context.fillText(text, end.x + 13, end.y + 0.5);
}

function paintHeading(
  context: CanvasRenderingContext2D,
  camera: Camera,
  pose: PosedFigure,
  colour: string,
): void {
  context.beginPath();
  traceLine(context, camera, groundOf(pose), tipOf(pose));
  context.strokeStyle = colour;
  context.lineWidth = 2;
  context.stroke();
}

const groundOf = (pose: PosedFigure): Vec3 => [pose.travel[0], 0, pose.travel[1]];

function tipOf(pose: PosedFigure): Vec3 {
  const heading = pose.travel[2];
  return add(groundOf(pose), scale([Math.sin(heading), 0, Math.cos(heading)], ARROW));
}
