import { useEffect, useRef } from 'react';
import type { FrameStore } from '../player/frameStore';
import type { Player } from '../player/player';
import { AMBER, GOOD, GRAPHITE, INK, NON_PHOTO_BLUE, SHEET } from './colour';
import type { StageScene } from './scene';
import { sharp } from './sharp';
import { tracePoints } from './tracing';

interface Props {
  readonly scene: StageScene;
  readonly watched: string | null;
  readonly player: Player;
  readonly frames: FrameStore;
}

const PATH = GOOD;
const MARGIN = 20;
const MOST_POINTS = 240;
const LEAST_METRES = 2;
const HEADING_PIXELS = 11;

interface Plan {
  readonly x: (metres: number) => number;
  readonly y: (metres: number) => number;
}

/** The travel of every figure from above, with where each stint starts and where they stand now. */
export function PlanInset({ scene, watched, player, frames }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    const drawnOn = sharp(element);
    if (!element || !drawnOn) return undefined;
    const { context, width, height, ratio } = drawnOn;
    const still = document.createElement('canvas');
    still.width = element.width;
    still.height = element.height;
    let plan: Plan | null = null;
    /** What does not change with the playhead is painted once. */
    const lay = () => {
      const drawn = still.getContext('2d');
      if (!drawn) return;
      drawn.setTransform(ratio, 0, 0, ratio, 0, 0);
      plan = paintPaths(drawn, scene, watched, width, height);
      show();
    };
    const show = () => {
      context.setTransform(1, 0, 0, 1, 0, 0);
      context.drawImage(still, 0, 0);
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      if (plan) paintNow(context, scene, plan, player.frame);
    };
    lay();
    const offs = [frames.onFrames(lay), player.onFrame(show)];
    return () => {
      for (const off of offs) off();
    };
  }, [scene, watched, player, frames]);
  return (
    <figure className="plan-inset">
      <figcaption>
        Plan <span className="quiet">from above</span>
      </figcaption>
      <canvas ref={canvas} role="img" aria-label="The paths of all figures, from above" />
    </figure>
  );
}

function paintPaths(
  context: CanvasRenderingContext2D,
  scene: StageScene,
  watched: string | null,
  width: number,
  height: number,
): Plan {
  const step = Math.max(1, Math.ceil(scene.length / MOST_POINTS));
  const paths = scene.figures.map(({ id, starts }) => {
    const points: { frame: number; x: number; z: number; heading: number }[] = [];
    for (let frame = 0; frame < scene.length; frame += step) {
      const travel = scene.pose(id, frame)?.travel;
      if (travel) points.push({ frame, x: travel[0], z: travel[1], heading: travel[2] });
    }
    return { id, points, starts };
  });
  const all = paths.flatMap(({ points }) => points);
  // As the Plan view has it: z to the right, x up the page.
  const across = bounds(all.map(({ z }) => z));
  const up = bounds(all.map(({ x }) => x));
  const scale = Math.min(
    (width - 2 * MARGIN) / (across.size || 1),
    (height - 2 * MARGIN) / (up.size || 1),
  );
  const plan: Plan = {
    x: (z) => width / 2 + (z - across.middle) * scale,
    y: (x) => height / 2 - (x - up.middle) * scale,
  };
  context.fillStyle = SHEET;
  context.fillRect(0, 0, width, height);
  context.strokeStyle = NON_PHOTO_BLUE;
  context.globalAlpha = 0.45;
  context.lineWidth = 0.6;
  context.beginPath();
  for (let metre = Math.ceil(across.low - 9); metre < across.low + across.size + 9; metre++) {
    context.moveTo(plan.x(metre), 0);
    context.lineTo(plan.x(metre), height);
  }
  for (let metre = Math.ceil(up.low - 9); metre < up.low + up.size + 9; metre++) {
    context.moveTo(0, plan.y(metre));
    context.lineTo(width, plan.y(metre));
  }
  context.stroke();
  context.globalAlpha = 1;
  // Numbers for one figure only: for all they would lie on each other.
  const numbered = paths.find(({ id }) => id === watched) ?? paths[0];
  for (const path of paths) {
    const { points, starts } = path;
    context.strokeStyle = PATH;
    context.lineWidth = 1.8;
    context.beginPath();
    tracePoints(
      context,
      points.map(({ x, z }) => ({ x: plan.x(z), y: plan.y(x) })),
    );
    context.stroke();
    context.font = '500 10px "Spline Sans Mono", monospace';
    context.textAlign = 'center';
    let lastLabel = Number.NEGATIVE_INFINITY;
    for (const start of starts) {
      const near = points.find(({ frame }) => frame >= start);
      if (!near) continue;
      const [px, py] = [plan.x(near.z), plan.y(near.x)];
      // A tick across the path, square to the heading.
      const [dx, dy] = [Math.sin(near.heading) * 5, Math.cos(near.heading) * 5];
      context.strokeStyle = INK;
      context.lineWidth = 1.2;
      context.beginPath();
      context.moveTo(px + dx, py + dy);
      context.lineTo(px - dx, py - dy);
      context.stroke();
      if (path !== numbered || px - lastLabel < 24) continue;
      lastLabel = px;
      context.fillStyle = GRAPHITE;
      context.fillText(String(start + scene.firstFrame), px, py + 17);
    }
  }
  return plan;
}

function paintNow(
  context: CanvasRenderingContext2D,
  scene: StageScene,
  plan: Plan,
  frame: number,
): void {
  for (const { id } of scene.figures) {
    const travel = scene.pose(id, frame)?.travel;
    if (!travel) continue;
    const [x, y] = [plan.x(travel[1]), plan.y(travel[0])];
    context.strokeStyle = INK;
    context.lineWidth = 1.6;
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(
      x + Math.cos(travel[2]) * HEADING_PIXELS,
      y - Math.sin(travel[2]) * HEADING_PIXELS,
    );
    context.stroke();
    context.beginPath();
    context.arc(x, y, 4.2, 0, Math.PI * 2);
    context.fillStyle = AMBER;
    context.fill();
    context.stroke();
  }
}

function bounds(values: readonly number[]) {
  const low = Math.min(...values, 0);
  const high = Math.max(...values, 0);
  const size = Math.max(LEAST_METRES, high - low);
  const middle = (low + high) / 2;
  return { low: middle - size / 2, size, middle };
}
