import { expect, it } from 'vitest';
import { heldAt } from './heldAt';

it('finds what is held on a frame, at its edges too, and nothing before the first', () => {
  const held = [
    { frame: 2, mouth: 'rest' },
    { frame: 10, mouth: 'thl' },
    { frame: 16, mouth: 'e' },
  ];
  expect([1, 2, 9, 10, 15, 16, 470].map((frame) => heldAt(held, frame)?.mouth)).toEqual([
    undefined,
    'rest',
    'rest',
    'thl',
    'thl',
    'e',
    'e',
  ]);
  expect(heldAt([], 3)).toBeNull();
});
