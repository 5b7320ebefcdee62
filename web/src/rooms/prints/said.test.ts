import { expect, it } from 'vitest';
import type { PrintCard } from '../../api/prints';
import { framesSaid, megabytes, momentOf, pictureAt, seconds } from './said';

const PRINT = {
  first: 24,
  first_frame: 1,
  frames: 48,
  frames_per_second: 24000 / 1001,
} as PrintCard;

it('says which frames a print shows, how long it is and how large', () => {
  expect(framesSaid(PRINT)).toBe('25 to 72');
  expect(seconds(PRINT)).toBeCloseTo(2.002, 6);
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
