/** The map of where to join, as a picture: outgoing frame down, incoming frame across; dark is near. */

import type { JoinMap } from '../../../api/joins';
import { GOOD, mix, SHEET } from '../../../stage/colour';

const STEPS = 24;
const INKS = Array.from({ length: STEPS }, (_, step) =>
  channels(mix(GOOD, SHEET, Math.sqrt(step / (STEPS - 1)))),
);
/** What is as far apart as this share of all pairs is as pale as paper. */
const PALE_SHARE = 0.7;

/** One pixel a pair. */
export function heatImage(map: JoinMap): ImageData {
  const width = map.inFrames.length;
  const height = map.outFrames.length;
  const image = new ImageData(width, height);
  const sorted = Float32Array.from(map.score).sort();
  const low = sorted[0];
  const span = Math.max(1e-6, sorted[Math.floor(PALE_SHARE * (sorted.length - 1))] - low);
  map.score.forEach((score, place) => {
    const step = Math.min(STEPS - 1, Math.floor(((score - low) / span) * (STEPS - 1)));
    const [red, green, blue] = INKS[step];
    image.data.set([red, green, blue, 255], place * 4);
  });
  return image;
}

/** The pair under a point of the map, both as shares of it. */
export function pairAt(
  map: JoinMap,
  across: number,
  down: number,
): { row: number; column: number } {
  const inside = (share: number, count: number) =>
    Math.max(0, Math.min(count - 1, Math.floor(share * count)));
  return { row: inside(down, map.outFrames.length), column: inside(across, map.inFrames.length) };
}

/** The cell nearest to a pair of frames; none where that lies outside the map. Frames of a stint that runs
 * at a pace of its own are no whole numbers, and come rounded. */
export function cellOf(
  map: Pick<JoinMap, 'outFrames' | 'inFrames'>,
  pair: { readonly at: number; readonly in_frame: number },
): { row: number; column: number } | null {
  const row = nearest(map.outFrames, pair.at);
  const column = nearest(map.inFrames, pair.in_frame);
  return row === null || column === null ? null : { row, column };
}

function nearest(frames: Float32Array, wanted: number): number | null {
  let best = 0;
  frames.forEach((frame, place) => {
    if (Math.abs(frame - wanted) < Math.abs(frames[best] - wanted)) best = place;
  });
  return Math.abs(frames[best] - wanted) <= 1 ? best : null;
}

/** Runs of frames in which a foot stands: 0 for the left, 1 for the right. */
export function standing(feet: Uint8Array, side: 0 | 1): [number, number][] {
  const found: [number, number][] = [];
  for (let place = 0; place < feet.length / 2; place++) {
    if (!feet[place * 2 + side]) continue;
    const last = found.at(-1);
    if (last && last[1] === place) last[1] = place + 1;
    else found.push([place, place + 1]);
  }
  return found;
}

/** The feet that stand in both poses of a pair. */
export function plantedIn(map: JoinMap, row: number, column: number) {
  const both = ([0, 1] as const).map(
    (side) => map.outFeet[row * 2 + side] && map.inFeet[column * 2 + side],
  );
  if (both[0] && both[1]) return 'both' as const;
  if (both[0]) return 'left' as const;
  return both[1] ? ('right' as const) : ('none' as const);
}

function channels(colour: string): [number, number, number] {
  const at = (place: number) => Number.parseInt(colour.slice(place, place + 2), 16);
  return [at(1), at(3), at(5)];
}
