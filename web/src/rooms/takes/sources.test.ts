import { expect, test } from 'vitest';
import { sourceAt, sourceEnd } from './sources';

const cleaned = { at: [0, 5, 10, 15] };

test('frames of what came out stand for frames of the take', () => {
  expect(sourceAt(cleaned, 2)).toBe(10);
  expect(sourceAt(cleaned, 99)).toBe(15);
  expect(sourceAt(cleaned, -4)).toBe(0);
  expect(sourceAt({ at: [] }, 0)).toBe(0);
});

test('ranges that meet leave no frame of the take between them, and the last reaches its end', () => {
  expect(sourceEnd(cleaned, 2, 19)).toBe(sourceAt(cleaned, 2));
  expect(sourceEnd(cleaned, 4, 19)).toBe(19);
  expect(sourceEnd(cleaned, 9, 19)).toBe(19);
});
