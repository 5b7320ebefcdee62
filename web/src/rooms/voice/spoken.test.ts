import { describe, expect, it } from 'vitest';
import type { LineSheet, SpokenWord } from '../../api/lines';
import { frameOf, over, phonesOf, rangeOf, wordAt, writingAt } from './spoken';

const phone = (name: string, start: number, end: number) => ({ phone: name, start, end });
const WORDS = [
  { word: 'Three', start: 0.5, end: 0.75, phones: [phone('TH', 0.5, 0.6), phone('R', 0.6, 0.75)] },
  { word: 'ropes', start: 0.75, end: 0.8, fits: false, phones: [] },
  { word: 'lit', start: 1, end: 1.25, phones: [phone('L', 1, 1.01), phone('IH', 1.02, 1.25)] },
] as unknown as SpokenWord[];
const SHEET = {
  fps: 24,
  frames: 48,
  seconds: 2,
  reading: { seconds: 2, words: WORDS, pauses: [{ start: 1.5, end: 2 }] },
} as unknown as LineSheet;

describe('a line by its frames', () => {
  it('puts a moment that lies a hair early on its frame', () => {
    expect([frameOf(1 - 1e-9, 24), frameOf(0.99, 24), frameOf(1001 / 24000, 24000 / 1001)]).toEqual(
      [24, 23, 1],
    );
  });

  it('counts phones through all words, and passes over words that are not heard', () => {
    expect(phonesOf(WORDS).map(({ phone: one, word, place }) => [one.phone, word, place])).toEqual([
      ['TH', 0, 0],
      ['R', 0, 1],
      ['L', 2, 2],
      ['IH', 2, 3],
    ]);
    expect([0.4, 0.5, 0.9, 1.1].map((seconds) => wordAt(WORDS, seconds))).toEqual([-1, 0, 0, 2]);
  });

  it('gives a word the frames that its sounds touch', () => {
    expect(rangeOf(WORDS[0], SHEET)).toEqual({ start: 12, end: 18 });
    expect(rangeOf({ ...WORDS[2], end: 9 }, SHEET)).toEqual({ start: 24, end: 48 });
  });

  it('writes words over the one that is said here, to the next one, or over what is played', () => {
    expect(writingAt(SHEET, 13, null)).toEqual({ start: 0.5, end: 0.75, text: 'Three' });
    // A word that is not heard takes no room; without a next one some of the sound is taken.
    expect(writingAt(SHEET, 18, null)).toEqual({ start: 0.75, end: 1, text: '' });
    expect(writingAt(SHEET, 36, null)).toEqual({ start: 1.5, end: 1.9, text: '' });
    expect(writingAt(SHEET, 0, { start: 6, end: 60 })).toEqual({
      start: 0.25,
      end: 2,
      text: 'Three lit',
    });
    expect(over(WORDS, 0.75, 1).text).toBe('');
  });
});
