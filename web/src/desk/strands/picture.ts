/** Where strands are drawn: threads between two rulers, rounds shaded, the pace as a line. */

import type { Schemas } from '../../api/client';
import { type Scale, xOf } from '../scale';

export type Strands = Schemas['Strands'];

export const RULER = 16;
export const PACE = 46;
export const THREADS = 72;

/** How high the picture is: the scene’s has the desk’s ruler over it. */
export const stripHeight = (isScene: boolean): number =>
  (isScene ? 0 : RULER) + PACE + THREADS + RULER + 6;

/** Two rulers of one measure: where time runs as made, threads stand side by side. */
export interface Rulers {
  readonly played: (frame: number) => number;
  readonly source: (frame: number) => number;
  /** Pixels of a source frame. */
  readonly pixels: number;
}

/** The scene’s rulers begin at one place; a stint’s source lies in the middle under it. */
export function rulersOf(scale: Scale, strands: Strands, isScene: boolean): Rulers {
  const pixels = scale.pixelsPerFrame / strands.unit;
  const middle = (strands.start + strands.end) / 2;
  const origin = isScene
    ? xOf(scale, 0)
    : xOf(scale, middle) - ((strands.source_low + strands.source_high) / 2) * pixels;
  return {
    // A frame stands in the middle of its own width, as on the desk's ruler.
    played: (frame) => xOf(scale, frame + 0.5),
    source: (frame) => origin + frame * pixels + scale.pixelsPerFrame / 2,
    pixels,
  };
}

const STEPS = [1, 2, 3, 4, 6, 8, 12, 24, 48, 96, 192, 480, 960, 2400, 4800];
const LEAST_APART = 3.4;

/** Every how many source frames a thread is drawn, so that they can be told apart. */
function threadStep(pixels: number, least = 1): number {
  return STEPS.find((step) => step >= least && step * pixels >= LEAST_APART) ?? 9600;
}

/** A thread: it leaves the upper ruler straight down, and comes to the lower one straight. */
export function thread(x: number, top: number, to: number, bottom: number): string {
  const bend = (bottom - top) * 0.46;
  return `M${x} ${top}C${x} ${top + bend} ${to} ${bottom - bend} ${to} ${bottom}`;
}

const back = (x: number, top: number, to: number, bottom: number): string => {
  const bend = (bottom - top) * 0.46;
  return `L${to} ${bottom}C${to} ${bottom - bend} ${x} ${top + bend} ${x} ${top}Z`;
};

export interface Threads {
  readonly fine: string;
  readonly strong: string;
  readonly held: string;
  readonly back: string;
  readonly rounds: string;
}

/** All threads that are seen, as one path of each kind. */
export function threadsOf(
  strands: Strands,
  rulers: Rulers,
  top: number,
  bottom: number,
  seen: readonly [number, number],
): Threads {
  const step = threadStep(rulers.pixels, strands.thread_step);
  const strong = step * 12;
  const paths: Record<'fine' | 'strong' | 'held' | 'back', string[]> = {
    fine: [],
    strong: [],
    held: [],
    back: [],
  };
  const { threads_played: played, threads_source: sources, threads_way: ways } = strands;
  for (const [place, at] of played.entries()) {
    const source = sources[place];
    const way = ways[place];
    const counted = way === 'held' ? at : source;
    if (Math.round(counted) % step !== 0) continue;
    const [x, to] = [rulers.played(at), rulers.source(source)];
    if (Math.max(x, to) < seen[0] || Math.min(x, to) > seen[1]) continue;
    const kind =
      way === 'on' ? (Math.round(source) % strong === 0 ? 'strong' : 'fine') : (way ?? 'fine');
    paths[kind].push(thread(round(x), top, round(to), bottom));
  }
  return {
    fine: paths.fine.join(''),
    strong: paths.strong.join(''),
    held: paths.held.join(''),
    back: paths.back.join(''),
    rounds: roundsOf(strands, rulers, top, bottom),
  };
}

/** Every other round of a cycle, shaded between the threads at its ends. */
function roundsOf(strands: Strands, rulers: Rulers, top: number, bottom: number): string {
  const length = strands.round_frames;
  if (!length) return '';
  const { threads_played: played, threads_source: sources } = strands;
  const found: string[] = [];
  const roundOf = (place: number) => Math.floor((sources[place] + 1e-6) / length);
  for (let first = 0; first < played.length; ) {
    let last = first;
    while (last + 1 < played.length && roundOf(last + 1) === roundOf(first)) last += 1;
    const end = Math.min(last + 1, played.length - 1);
    if (Math.abs(roundOf(first)) % 2 === 1) {
      const [a, b] = [first, end].map((place) => [
        round(rulers.played(played[place])),
        round(rulers.source(sources[place])),
      ]);
      found.push(thread(a[0], top, a[1], bottom) + back(b[0], top, b[1], bottom));
    }
    first = last + 1;
  }
  return found.join('');
}

export interface PaceAxis {
  readonly most: number;
  readonly least: number;
  readonly y: (pace: number) => number;
  readonly paceAt: (y: number) => number;
}

const MOST_PACE = 5;

/** The pace from nothing, or from backwards, to a little over what is there. */
export function paceAxis(strands: Strands, top: number, height: number): PaceAxis {
  const paces = strands.paces.map(({ pace }) => pace);
  const most = Math.min(MOST_PACE, Math.max(1.3, 1.1 * Math.max(...paces)));
  const least = Math.max(-MOST_PACE, Math.min(0, 1.1 * Math.min(...paces)));
  const pixels = height / (most - least);
  return {
    most,
    least,
    y: (pace) => top + (most - Math.max(least, Math.min(most, pace))) * pixels,
    paceAt: (y) => most - (y - top) / pixels,
  };
}

/** The pace as a line, and what lies under it. */
export function paceLine(strands: Strands, rulers: Rulers, axis: PaceAxis) {
  const points = strands.paces.map(
    ({ played, pace }) => `${round(rulers.played(played))} ${round(axis.y(pace))}`,
  );
  const line = `M${points.join('L')}`;
  const [first, last] = [strands.start, strands.end].map((at) => round(rulers.played(at)));
  return { line, area: `${line}L${last} ${axis.y(0)}H${first}Z` };
}

/** The thread that passes a place between the rulers: when it plays, and its source. */
export function threadNear(
  strands: Strands,
  rulers: Rulers,
  x: number,
  share: number,
): { readonly played: number; readonly source: number } | null {
  // The curve of `thread`, at its share of the height.
  const ease = share * share * (3 - 2 * share);
  let best: { readonly played: number; readonly source: number } | null = null;
  let nearest = 14;
  for (const [place, played] of strands.threads_played.entries()) {
    const source = strands.threads_source[place];
    const from = rulers.played(played);
    const away = Math.abs(from + (rulers.source(source) - from) * ease - x);
    if (away < nearest) {
      nearest = away;
      best = { played, source };
    }
  }
  return best;
}

/** The source under a played moment, between the frames that are known. */
export function sourceAt(strands: Strands, played: number): number | null {
  const { shown, start } = strands;
  const place = played - Math.ceil(start - 1e-9);
  if (!shown.length || place < -0.5 || place > shown.length) return null;
  const low = Math.max(0, Math.min(shown.length - 1, Math.floor(place)));
  const next = shown[low + 1] ?? shown[low];
  return shown[low] + (next - shown[low]) * Math.max(0, Math.min(1, place - low));
}

/** The whole numbers of a ruler that have room. */
export function numbersOf(
  low: number,
  high: number,
  pixels: number,
  first: number,
): readonly number[] {
  const step =
    STEPS.find((frames) => frames * pixels >= 38 && frames !== 3 && frames !== 8) ?? 9600;
  const found: number[] = [];
  for (let shown = Math.ceil((low + first) / step) * step; shown <= high + first; shown += step)
    found.push(shown);
  return found;
}

export const percent = (pace: number): string => `${Math.round(pace * 1000) / 10} %`;

const round = (x: number): number => Math.round(x * 10) / 10;
