import { expect, it } from 'vitest';
import type { PrintCard } from '../../api/prints';
import {
  frameShown,
  framesSaid,
  lengthSaid,
  megabytes,
  momentOf,
  pictureAt,
  revisionSaid,
  seconds,
} from './said';

const PRINT = {
  first: 24,
  first_frame: 1,
  frames: 48,
  rounds: 1,
  pictures: 48,
  frames_per_second: 24000 / 1001,
  shown_frames_per_second: 24000 / 1001,
} as PrintCard;

it('says which frames a print shows, how long it is and how large', () => {
  expect(framesSaid(PRINT)).toBe('25 to 72');
  expect(seconds(PRINT)).toBeCloseTo(2.002, 6);
  const looped = { ...PRINT, rounds: 3 };
  expect(framesSaid(looped)).toBe('25 to 72, 3 rounds');
  expect(seconds(looped)).toBeCloseTo(6.006, 6);
  expect([0, 47, 48, 143].map((picture) => frameShown(looped, picture))).toEqual([25, 72, 25, 72]);
  // At another rate a picture shows the frame that stands then.
  const slow = { ...PRINT, pictures: 24, frames_per_second: 12000 / 1001 };
  expect([0, 1, 23, 24].map((picture) => frameShown(slow, picture))).toEqual([25, 27, 71, 25]);
  const fast = { ...PRINT, pictures: 60, frames_per_second: 30000 / 1001 };
  expect([0, 1, 4, 5, 59].map((one) => frameShown(fast, one))).toEqual([25, 25, 28, 29, 72]);
  const sheet = { ...PRINT, form: 'contact', frames: 9 } as PrintCard;
  expect(framesSaid(sheet)).toBe('9 from 25 on');
  expect(lengthSaid(sheet)).toBeNull();
  expect(lengthSaid({ ...PRINT, form: 'gif' })).toBe('2.00 s');
  const both = { ...PRINT, revision: 4, beside: 2, captured: false };
  expect(revisionSaid(both)).toBe('rev 4, beside rev 2');
  expect(revisionSaid({ ...both, beside: null, captured: true })).toBe(
    'rev 4, beside what was captured',
  );
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
