import { expect, test } from 'vitest';
import { gainOf, wavePath } from './wave';

/** Silence, then a second that swings from −1 to half of 1. */
const PEAKS = {
  values: new Uint8Array([...Array(10).fill([128, 128]), ...Array(10).fill([1, 192])].flat()),
  secondsAPeak: 0.1,
};
const FRAME = {
  left: 0,
  right: 20,
  secondsAtZero: 0,
  secondsAPixel: 0.1,
  middle: 20,
  halfHeight: 10,
  gainAt: () => 1,
};
const strokes = (path: string) =>
  path
    .split('M')
    .slice(1)
    .map((part) => part.split(/[ V]/).map(Number));

test('a stroke goes as far as the loudest of what it stands for, and no further than its lane', () => {
  const drawn = strokes(wavePath(PEAKS, FRAME));
  expect(drawn).toHaveLength(7);
  expect(drawn[0]).toEqual([0, 19.6, 20.4]);
  expect(drawn[5]).toEqual([15, 15, 30]);
  const louder = strokes(wavePath(PEAKS, { ...FRAME, gainAt: () => 4 }));
  expect(louder[5]).toEqual([15, 10, 30]);
});

test('a piece from the middle shows what is there, at any zoom', () => {
  // Pixel 100 shows second 1.5; ten pixels a bin.
  const near = { ...FRAME, left: 100, right: 110, secondsAtZero: 0.5, secondsAPixel: 0.01 };
  expect(strokes(wavePath(PEAKS, near)).map(([x, up]) => [x, up])).toEqual(
    [102, 105, 108].map((x) => [x, 15]),
  );
  const after = { ...FRAME, left: 0, right: 4, secondsAtZero: 9 };
  expect(strokes(wavePath(PEAKS, after))).toEqual([
    [0, 19.6, 20.4],
    [3, 19.6, 20.4],
  ]);
});

test('what is faded and softer is drawn so', () => {
  const gain = gainOf({
    level_db: -20,
    in_seconds: 1,
    seconds: 4,
    fade_in_seconds: 1,
    fade_out_seconds: 2,
  });
  expect([1, 1.5, 2, 3, 4, 5].map((at) => gain(at).toFixed(3))).toEqual([
    '0.000',
    '0.050',
    '0.100',
    '0.100',
    '0.050',
    '0.000',
  ]);
});
