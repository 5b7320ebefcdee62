import { expect, test } from 'vitest';
import type { components } from '../api/schema';
import { cardsOf } from './cards';

type Figure = components['schemas']['Figure'];
const picture = { file: 'a', width_pixels: 200, height_pixels: 100 };
const figure = (more: object) =>
  ({
    joints: [{ name: 'body' }, { name: 'wing' }],
    dress: {
      cards: [
        {
          name: 'near wing',
          joint: 'wing',
          pictures: [
            { drawing: 3, picture },
            { drawing: 5, picture: { ...picture, file: 'b' } },
          ],
          metres_per_pixel: 0.01,
          pivot: [0.25, 0.5],
          ...more,
        },
        { name: 'lost', joint: 'nowhere', pictures: [{ drawing: 1, picture }] },
      ],
    },
  }) as unknown as Figure;

test('a card hangs on its joint by its pivot, in metres', () => {
  const [card, ...others] = cardsOf(figure({}));
  expect(others).toEqual([]);
  expect([card.joint, card.first]).toEqual([1, 3]);
  expect(card.corner[0]).toBeCloseTo(-0.5);
  expect(card.corner[1]).toBeCloseTo(-0.5);
  expect(card.across).toEqual([2, 0]);
  expect(card.up).toEqual([0, 1]);
  expect(card.files.get(5)).toBe('b');
});

test('turned as a clock’s hands go, what was up is ahead; mirrored, it is behind', () => {
  const [turned] = cardsOf(figure({ turn_degrees: 90 }));
  expect(turned.up[0]).toBeCloseTo(1);
  expect(turned.up[1]).toBeCloseTo(0);
  const [mirrored] = cardsOf(figure({ turn_degrees: 90, mirrored: true }));
  expect(mirrored.up[0]).toBeCloseTo(-1);
  expect(mirrored.across[1]).toBeCloseTo(-2);
});
