import { expect, test } from 'vitest';
import { partTransform, pictureTransform, viewBox } from './placing';
import { laid } from './room';

const numbers = (text: string): number[] =>
  text
    .replace(/matrix\(|\)/g, '')
    .split(' ')
    .map(Number);

const at = (text: string, x: number, y: number): [number, number] => {
  const [a, b, c, d, e, f] = numbers(text);
  return [a * x + c * y + e, b * x + d * y + f];
};

test('a picture’s corners lie where the core placed them, y down', () => {
  const placed = { number: 1, across: [0.9, 0, -0.45], up: [0, 1, 0] } as const;
  const shown = pictureTransform({ ...placed, across: [...placed.across], up: [...placed.up] });
  expect(at(shown, 0, 0)).toEqual([-0.45, -1]);
  expect(at(shown, 1, 1)[0]).toBeCloseTo(0.45);
  expect(at(shown, 1, 1)[1]).toBeCloseTo(0);
});

test('a part that is turned as a clock’s hands go in the core goes so on the page', () => {
  // A quarter turn about the pegs: up becomes right.
  const [x, y] = at(partTransform([0, -1, 1, 0, 0, 0]), 0, -1);
  expect(x).toBeCloseTo(1);
  expect(y).toBeCloseTo(0);
  expect(partTransform(undefined)).toBe('');
});

test('the page shows all the paper, with a margin', () => {
  expect(numbers(viewBox([-0.5, 0, 0.5, 1])).map((n) => +n.toFixed(2))).toEqual([
    -0.56, -1.06, 1.12, 1.12,
  ]);
});

test('parts change places with the one above or below, and no further than the ends', () => {
  const names = ['arm', 'body', 'head'];
  expect(laid(names, 'arm', 'front')).toEqual(['body', 'arm', 'head']);
  expect(laid(names, 'head', 'back')).toEqual(['arm', 'head', 'body']);
  expect(laid(names, 'head', 'front')).toBeNull();
  expect(laid(names, 'arm', 'back')).toBeNull();
  expect(laid(names, 'wing', 'back')).toBeNull();
});
