/** Words, phones and mouths of a line, by its frames. */

import type { Exposed, LineSheet, SpokenPhone, SpokenWord } from '../../api/lines';

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

/** The exposure that shows on a frame. */
export function exposedAt(run: readonly Exposed[], frame: number): Exposed | null {
  let [low, high] = [0, run.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (run[middle].frame <= frame) low = middle;
    else high = middle - 1;
  }
  return run[low] ?? null;
}

/** The word that is said at a moment, or the one before it. */
export const wordAt = (words: readonly SpokenWord[], seconds: number): number =>
  words.findLastIndex((word) => word.fits !== false && word.start <= seconds + HAIR);

/** A word's frames, with those on which its first and last sounds lie. */
export function rangeOf(word: SpokenWord, { fps, frames }: Pick<LineSheet, 'fps' | 'frames'>) {
  const start = Math.min(frames - 1, frameOf(word.start, fps));
  return { start, end: Math.max(start + 1, Math.min(frames, Math.ceil(word.end * fps - HAIR))) };
}

/** A phone as a person writes it: small letters. */
export const written = (phone: string): string => phone.toLowerCase();

/** What is said from a row of a sheet on, and for how many rows. */
export interface SaidHere {
  readonly text: string;
  readonly length: number;
}

export type SaidRows = ReadonlyMap<number, SaidHere>;

/** What is said, by the rows on which it is written. */
export const byRow = (
  said: readonly (SaidHere & { readonly frame: number })[],
): ReadonlyMap<number, SaidHere> => new Map(said.map((one) => [one.frame, one]));
