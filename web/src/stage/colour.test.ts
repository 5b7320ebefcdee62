import { expect, test } from 'vitest';
import { INK, mix, PENCIL_BLUE, PENCIL_RED, VIRIDIAN } from './colour';

test('canvases paint with the colours that the theme says', () => {
  expect([INK, PENCIL_BLUE, PENCIL_RED, VIRIDIAN]).toEqual([
    '#22303c',
    '#2f6db5',
    '#c8452f',
    '#1c6c58',
  ]);
});

test('colours are mixed channel by channel', () => {
  expect(mix('#000000', '#ffffff', 0.5)).toBe('#808080');
  expect(mix('#102030', '#102030', 0.3)).toBe('#102030');
  expect(mix('#ff0000', '#0000ff', 0.25)).toBe('#bf0040');
});
