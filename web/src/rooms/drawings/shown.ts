/** What of a run shows when. */

import type { RunSheet } from '../../api/drawings';

type Shown = RunSheet['shown'][number];

/** The place of the exposure that shows on a frame. */
export function placeAt(shown: readonly Shown[], frame: number): number {
  let [low, high] = [0, shown.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (shown[middle].frame <= frame) low = middle;
    else high = middle - 1;
  }
  return low;
}

export const shownAt = (shown: readonly Shown[], frame: number): Shown | null =>
  shown[placeAt(shown, frame)] ?? null;

/** The drawings next to the one that shows, the nearest first; none of them twice. */
export function neighbours(
  shown: readonly Shown[],
  frame: number,
  way: 1 | -1,
  count: number,
): readonly number[] {
  const here = placeAt(shown, frame);
  const found: number[] = [];
  const own = shown[here]?.drawing;
  for (let at = here + way; shown[at] && found.length < count; at += way) {
    const { drawing } = shown[at];
    if (drawing !== own && !found.includes(drawing)) found.push(drawing);
  }
  return found;
}

/** Where the exposures of an order begin, played once. */
export function orderStarts(held: RunSheet['run']['held']): readonly number[] {
  let at = 0;
  return held.map(({ frames = 2 }) => {
    const start = at;
    at += frames;
    return start;
  });
}
