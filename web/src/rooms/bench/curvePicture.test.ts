import { expect, test } from 'vitest';
import { along, frameUnder, framing, limitsOf, nearer, xAt } from './curvePicture';

const WHOLE = { start: -2, end: 34 };

test('chosen keys are framed with a margin, also a single one', () => {
  expect(framing(6, 12)).toEqual({ start: 5, end: 13 });
  expect(framing(0, 50)).toEqual({ start: -6, end: 56 });
  expect(framing(7, 7)).toEqual({ start: 6, end: 8 });
});

test('a zoom holds the frame under the pointer and ends at the whole', () => {
  const near = nearer(WHOLE, WHOLE, 16, 2);
  expect(near).toEqual({ start: 7, end: 25 });
  expect(nearer(near ?? WHOLE, WHOLE, 16, 0.4)).toBeNull();
  const nearest = nearer({ start: 5, end: 8 }, WHOLE, 6, 100);
  expect((nearest?.end ?? 0) - (nearest?.start ?? 0)).toBeCloseTo(2, 9);
});

test('a pan stops at the ends', () => {
  expect(along({ start: 0, end: 10 }, WHOLE, 5)).toEqual({ start: 5, end: 15 });
  expect(along({ start: 0, end: 10 }, WHOLE, 500)).toEqual({ start: 24, end: 34 });
  expect(along(WHOLE, WHOLE, 5)).toBeNull();
});

test('limits are those of the frames that are seen', () => {
  const values = Array.from({ length: 41 }, (_, k) => k);
  const trace = {
    channel: 'chest.turn.x',
    unit: 'degrees' as const,
    start: 0,
    steps_a_frame: 4,
    values,
    rates: values,
  };
  expect(limitsOf([trace], { start: 0, end: 10 })).toEqual({ low: -4.8, high: 44.8 });
  expect(limitsOf([trace], { start: 5, end: 7 })).toEqual({ low: 16, high: 32 });
  expect(limitsOf([], WHOLE)).toBeNull();
});

test('a frame and its place on the picture are each other’s inverse', () => {
  const view = { ...WHOLE, low: 0, high: 1, width: 500, height: 200 };
  expect(frameUnder(view, xAt(view, 11.25))).toBeCloseTo(11.25, 9);
});
