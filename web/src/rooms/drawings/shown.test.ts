import { expect, test } from 'vitest';
import { neighbours, orderStarts, placeAt } from './shown';

const shown = [
  { frame: 0, length: 2, drawing: 1, place: null },
  { frame: 2, length: 4, drawing: 2, place: null },
  { frame: 6, length: 2, drawing: 3, place: null },
  { frame: 8, length: 2, drawing: 2, place: null },
  { frame: 10, length: 2, drawing: 1, place: null },
];

test('the exposure that shows on a frame is found', () => {
  expect([0, 1, 2, 5, 6, 11, 99].map((frame) => placeAt(shown, frame))).toEqual([
    0, 0, 1, 1, 2, 4, 4,
  ]);
});

test('neighbours are the nearest drawings, none of them twice, and never the one that shows', () => {
  expect(neighbours(shown, 6, -1, 2)).toEqual([2, 1]);
  expect(neighbours(shown, 6, 1, 3)).toEqual([2, 1]);
  expect(neighbours(shown, 2, 1, 2)).toEqual([3, 1]);
  expect(neighbours(shown, 0, -1, 2)).toEqual([]);
});

test('the exposures of an order begin one after the other', () => {
  const held = [
    { drawing: 1, frames: 2 },
    { drawing: 2, frames: 4 },
    { drawing: 3, frames: 2 },
  ];
  expect(orderStarts(held)).toEqual([0, 2, 6]);
});
