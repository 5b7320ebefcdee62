/** Drawn things catch on cuts, the playhead and beats, when they come near. */

import type { Schemas } from '../api/client';

type Desk = Schemas['Desk'];

const REACH_PIXELS = 7;

/** Every frame that something can catch on, but for the ends of what is being drawn itself. */
export function catches(desk: Desk, playhead: number, moving: ReadonlySet<string>): number[] {
  const cuts = desk.lanes.flatMap((lane) =>
    lane.stints
      .filter((stint) => !moving.has(stint.id))
      .flatMap((stint) => [stint.start, stint.end]),
  );
  const beats = desk.beats
    .filter((beat) => !moving.has(beat.id))
    .flatMap((beat) => [beat.start, beat.end]);
  return [0, desk.laid_frames, playhead, ...cuts, ...beats];
}

/** A moment drawn along a lane: on a whole frame, or where it catches. */
export function caught(moment: number, points: readonly number[], pixelsPerFrame: number): number {
  const away = (point: number) => Math.abs(point - moment);
  const near = [...points].sort((a, b) => away(a) - away(b))[0];
  return near !== undefined && away(near) < REACH_PIXELS / pixelsPerFrame
    ? near
    : Math.round(moment);
}

/**
 * The shift, in whole frames, that takes one of the edges onto the nearest catch within reach;
 * without one the shift as drawn.
 */
export function snapped(
  shift: number,
  edges: readonly number[],
  points: readonly number[],
  pixelsPerFrame: number,
): number {
  const whole = Math.round(shift);
  let best = whole;
  let nearest = REACH_PIXELS / pixelsPerFrame;
  for (const edge of edges) {
    for (const point of points) {
      const away = Math.abs(point - (edge + shift));
      if (away < nearest) {
        nearest = away;
        best = Math.round(point - edge);
      }
    }
  }
  return best;
}
