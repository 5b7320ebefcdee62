/** Which stretches of a sound are heard when, as play goes on: pure arithmetic, for the track to schedule. */

import type { Course } from '../player';

/** Sound comes from the server in pieces so long. */
export const PIECE_SECONDS = 10;

/** A part of one piece: `seconds` of it from `offset` on, heard from `at` on, by the clock of play. */
export interface Stretch {
  readonly piece: number;
  readonly offset: number;
  readonly seconds: number;
  readonly at: number;
}

const NEAR_SECONDS = 1e-9;

/** What is heard from one moment to another, in order, cut where pieces end and where play goes round. */
export function* heardBetween(
  course: Course,
  framesPerSecond: number,
  from: number,
  to: number,
): Generator<Stretch> {
  const { frame, since, start, end, loop, speed } = course;
  const first = start / framesPerSecond;
  const round = (end - start) / framesPerSecond;
  const gone = (at: number) => (frame - start) / framesPerSecond + ((at - since) / 1000) * speed;
  const momentOf = (played: number) =>
    since + ((played - (frame - start) / framesPerSecond) / speed) * 1000;
  let played = gone(Math.max(from, since));
  const until = loop ? gone(to) : Math.min(gone(to), round);
  while (until - played > NEAR_SECONDS) {
    const rounds = Math.floor((played + NEAR_SECONDS) / round);
    const here = first + Math.max(0, played - rounds * round);
    const piece = Math.floor((here + NEAR_SECONDS) / PIECE_SECONDS);
    const offset = Math.max(0, here - piece * PIECE_SECONDS);
    const seconds = Math.min(until - played, PIECE_SECONDS - offset, (rounds + 1) * round - played);
    yield { piece, offset, seconds, at: momentOf(played) };
    played += seconds;
  }
}
