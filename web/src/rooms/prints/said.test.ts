import { expect, it } from 'vitest';
import type { PrintCard } from '../../api/prints';
import { frameShown, framesSaid, megabytes, momentOf, pictureAt, seconds } from './said';

const PRINT = {
  first: 24,
  first_frame: 1,
  frames: 48,
  rounds: 1,
  frames_per_second: 24000 / 1001,
} as PrintCard;

it('says which frames a print shows, how long it is and how large', () => {
  expect(framesSaid(PRINT)).toBe('25 to 72');
  expect(seconds(PRINT)).toBeCloseTo(2.002, 6);
  const looped = { ...PRINT, rounds: 3 };
  expect(framesSaid(looped)).toBe('25 to 72, 3 rounds');
  expect(seconds(looped)).toBeCloseTo(6.006, 6);
  expect([0, 47, 48, 143].map((picture) => frameShown(looped, picture))).toEqual([25, 72, 25, 72]);
  expect(megabytes(8_412_345)).toBe('8.4 MB');
});

it('finds the picture that begins at a moment, and the middle of every picture', () => {
  for (const fps of [24, 24000 / 1001, 25, 60])
    for (let picture = 0; picture < 480; picture++) {
      expect(pictureAt(Math.round((picture / fps) * 1000) / 1000, fps, 480)).toBe(picture);
      expect(Math.floor(momentOf(picture, fps) * fps)).toBe(picture);
    }
  expect(pictureAt(99, 24, 48)).toBe(47);
});
