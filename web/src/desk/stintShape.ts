/** The outlines of stints: straight ends, or a scarf joint where one hands over to the next. */

import type { Schemas } from '../api/client';
import { type Scale, xOf } from './scale';

type Join = Schemas['DeskJoin'];
type Stint = Schemas['DeskStint'];
export type Point = readonly [number, number];

const HOOK = 3.2;

/**
 * The cut of a join from top to bottom. It falls as the incoming stint's weight grows, so that its
 * shape is the join's shape, with a carpenter's hook where both weigh the same.
 */
export function scarf(scale: Scale, join: Join, height: number): Point[] {
  const left = xOf(scale, join.start);
  const width = xOf(scale, join.end) - left;
  const steps = join.weights.length - 1;
  const points: Point[] = join.weights.map((weight, k) => [
    left + (width * k) / steps,
    weight * height,
  ]);
  const [x, y] = pinOf(scale, join, height);
  const hook = Math.min(HOOK, width / 5);
  const before = points.filter(([, py]) => py < y - 0.5);
  const after = points.filter(([, py]) => py > y + 0.5);
  return [
    ...before.filter(([px]) => px < x - hook),
    [x - hook, y + hook],
    [x + hook, y - hook],
    ...after.filter(([px]) => px > x + hook),
  ];
}

/** Where both stints weigh the same: the pin-head. */
export function pinOf(scale: Scale, join: Join, height: number): Point {
  const steps = join.weights.length - 1;
  const after = Math.max(
    1,
    join.weights.findIndex((weight) => weight >= 0.5),
  );
  const [low, high] = [join.weights[after - 1], join.weights[after]];
  const share = (after - 1 + (0.5 - low) / (high - low || 1)) / steps;
  const left = xOf(scale, join.start);
  return [left + share * (xOf(scale, join.end) - left), height / 2];
}

/** A stint's outline, its ends cut by the joins on either side. */
export function outlineOf(
  scale: Scale,
  stint: Stint,
  height: number,
  into: Join | undefined,
  out: Join | undefined,
): string {
  const start = xOf(scale, stint.start);
  const end = xOf(scale, stint.end);
  const left: Point[] = into
    ? [[start, 0], ...scarf(scale, into, height)]
    : [
        [start, 0],
        [start, height],
      ];
  const right: Point[] = out
    ? [...scarf(scale, out, height), [end, height]]
    : [
        [end, 0],
        [end, height],
      ];
  if (into) left.push([xOf(scale, into.end), height]);
  if (out) right.unshift([xOf(scale, out.start), 0]);
  return `${path([...left, ...right.reverse()])}Z`;
}

export const path = (points: readonly Point[]): string =>
  `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}`;

/** 4.25 → “4¼ cycles”, as a person would write it. */
export const cyclesText = (rounds: number): string =>
  `${roundsText(rounds)} ${Math.abs(rounds - 1) < 0.0025 ? 'cycle' : 'cycles'}`;

export function roundsText(rounds: number): string {
  const eighths = Math.round(rounds * 8);
  const whole = Math.floor(eighths / 8);
  const part = ['', '⅛', '¼', '⅜', '½', '⅝', '¾', '⅞'][eighths % 8];
  const near = Math.abs(rounds * 8 - eighths) < 0.02;
  if (!near) return rounds.toFixed(2);
  return `${whole || (part ? '' : '0')}${part}`;
}
