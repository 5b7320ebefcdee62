import { expect, test } from 'vitest';
import { fitScale, frameAt, rulerStep, xOf, zoomed } from './scale';
import { cyclesText } from './stintShape';
import { lanesInSight } from './TimeDesk';

test('rounds are written as a person would write them', () => {
  expect(cyclesText(4.25)).toBe('4¼ cycles');
  expect(cyclesText(1)).toBe('1 cycle');
  expect(cyclesText(5.625)).toBe('5⅝ cycles');
  expect(cyclesText(0.5)).toBe('½ cycles');
  expect(cyclesText(1.83)).toBe('1.83 cycles');
});

test('a frame and its place on the desk are each other’s inverse', () => {
  const scale = fitScale(288, 1216);
  expect(frameAt(scale, xOf(scale, 137))).toBeCloseTo(137, 9);
  expect(xOf(scale, 288)).toBeLessThan(1216);
});

test('zooming holds the frame under the pointer and never shows less than the scene', () => {
  const scale = fitScale(288, 1216);
  const near = zoomed(scale, 288, 640, 3);
  expect(frameAt(near, 640)).toBeCloseTo(frameAt(scale, 640), 9);
  expect(zoomed(near, 288, 640, 0.01)).toEqual(scale);
  expect(rulerStep(near)).toBeLessThan(rulerStep(scale));
});

test('only lanes in sight are drawn, and two beyond on either side', () => {
  const heights = Array.from({ length: 60 }, () => 46);
  expect(lanesInSight(heights, 0, 190)).toEqual({ first: -2, last: 6 });
  expect(lanesInSight(heights, 46 * 20, 190)).toEqual({ first: 18, last: 26 });
  expect(lanesInSight([24, 92, 92], 0, 200)).toEqual({ first: -2, last: 4 });
});
