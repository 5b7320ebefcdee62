/** Words, phones and mouths of a line, by its frames. */

import type { LineSheet, SpokenPhone, SpokenWord } from '../../api/lines';
import type { SaidHere, SaidRows } from '../../desk/sheet/ExposureSheet';
import type { Range } from '../../player/player';
import type { Writing } from './room';

/** A phone with its word and its place among all phones of the line. */
export interface PhoneHere {
  readonly phone: SpokenPhone;
  readonly word: number;
  readonly place: number;
}

const HAIR = 1e-6;

/** The frame on which a moment lies. */
export const frameOf = (seconds: number, fps: number): number => Math.floor(seconds * fps + HAIR);

/** All phones of a line, in order. */
export function phonesOf(words: readonly SpokenWord[]): PhoneHere[] {
  const found: PhoneHere[] = [];
  for (const [word, { phones = [] }] of words.entries())
    for (const phone of phones) found.push({ phone, word, place: found.length });
  return found;
}

/** The word that is said at a moment, or the one before it. */
export const wordAt = (words: readonly SpokenWord[], seconds: number): number =>
  words.findLastIndex((word) => word.fits !== false && word.start <= seconds + HAIR);

/** A word's frames, with those on which its first and last sounds lie. */
export function rangeOf(word: SpokenWord, { fps, frames }: Pick<LineSheet, 'fps' | 'frames'>) {
  const start = Math.min(frames - 1, frameOf(word.start, fps));
  return { start, end: Math.max(start + 1, Math.min(frames, Math.ceil(word.end * fps - HAIR))) };
}

/** What is written along the wave from a frame on, where nobody said for how long. */
const SOME_SECONDS = 0.4;

/** Where words are written: over the range that is played; the word that is said at a frame; or from there to
 * the next one. */
export function writingAt(
  sheet: Pick<LineSheet, 'reading' | 'fps' | 'frames' | 'seconds'>,
  frame: number,
  range: Range | null,
): Writing {
  const { reading, fps, seconds } = sheet;
  const words = (reading?.words ?? []).filter(({ fits }) => fits !== false);
  if (range) return over(words, range.start / fps, Math.min(seconds, range.end / fps));
  const now = frame / fps;
  const here = words.findLast((word) => {
    const { start, end } = rangeOf(word, sheet);
    return start <= frame && frame < end;
  });
  if (here) return { start: here.start, end: here.end, text: here.word };
  const next = words.find((word) => word.start > now)?.start ?? seconds;
  return { start: now, end: Math.min(next, now + SOME_SECONDS), text: '' };
}

/** A stretch with the words that lie in it. */
export function over(words: readonly SpokenWord[], start: number, end: number): Writing {
  const inside = words.filter(
    (word) => word.fits !== false && word.start < end - HAIR && word.end > start + HAIR,
  );
  return { start, end, text: inside.map(({ word }) => word).join(' ') };
}

/** A phone as a person writes it: small letters. */
export const written = (phone: string): string => phone.toLowerCase();

/** What is said, by the rows on which it is written. */
export const byRow = (said: readonly (SaidHere & { readonly frame: number })[]): SaidRows =>
  new Map(said.map((one) => [one.frame, one]));
