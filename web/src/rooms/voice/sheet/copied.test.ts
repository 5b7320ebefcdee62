import { expect, it } from 'vitest';
import type { Exposed } from '../../../api/lines';
import { copiedFrom, pastedAt } from './copied';

const RUN = [
  { frame: 0, length: 4, mouth: 'rest' },
  { frame: 4, length: 6, mouth: 'ai' },
  { frame: 10, length: 20, mouth: 'o' },
] as Exposed[];

it('copies what shows on rows, cut at both ends, and pastes it as far as the line goes', () => {
  const copy = copiedFrom(RUN, { start: 2, end: 12 });
  expect(copy.mouths).toEqual([
    { frame: 0, length: 2, mouth: 'rest' },
    { frame: 2, length: 6, mouth: 'ai' },
    { frame: 8, length: 2, mouth: 'o' },
  ]);
  expect(pastedAt(copy, 25, 30)).toEqual([
    { frame: 25, length: 2, mouth: 'rest' },
    { frame: 27, length: 3, mouth: 'ai' },
  ]);
});
