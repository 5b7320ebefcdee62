import { expect, test } from 'vitest';
import { cellOf, pairAt, standing } from './heat';

const map = {
  outFrames: Float32Array.from([134, 135, 136]),
  // A stint at 107 %: its frames are no whole numbers, and come as float32.
  inFrames: Float32Array.from([0, 1.07, 2.14, 3.21]),
};

test('a place is found by the frame nearest to it', () => {
  expect(cellOf(map, { at: 135, in_frame: 2.14 })).toEqual({ row: 1, column: 2 });
  expect(cellOf(map, { at: 136, in_frame: 3.6 })).toEqual({ row: 2, column: 3 });
  expect(cellOf(map, { at: 140, in_frame: 1.07 })).toBeNull();
});

test('a point of the map is the pair under it, held to the map', () => {
  const whole = map as Parameters<typeof pairAt>[0];
  expect(pairAt(whole, 0.6, 0.5)).toEqual({ row: 1, column: 2 });
  expect(pairAt(whole, 1.2, -0.3)).toEqual({ row: 0, column: 3 });
});

test('frames in which a foot stands come in runs', () => {
  const feet = Uint8Array.from([1, 0, 1, 1, 0, 1, 1, 0]);
  expect(standing(feet, 0)).toEqual([
    [0, 2],
    [3, 4],
  ]);
  expect(standing(feet, 1)).toEqual([[1, 3]]);
});
