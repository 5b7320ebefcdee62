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
  expect([card.joint, card.first.file]).toEqual([1, 'a']);
  expect(card.first.corner[0]).toBeCloseTo(-0.5);
  expect(card.first.corner[1]).toBeCloseTo(-0.5);
  expect(card.first.across).toEqual([2, 0]);
  expect(card.first.up).toEqual([0, 1]);
  expect(card.pictures.get(5)?.file).toBe('b');
});

test('a drawing that is swapped in lies as it was drawn itself', () => {
  const small = { file: 'b', width_pixels: 50, height_pixels: 100 };
  const pictures = [
    { drawing: 3, picture },
    { drawing: 5, picture: small, pivot: [0.5, 0], scale: 2, turn_degrees: 90 },
  ];
  const [card] = cardsOf(figure({ pictures }));
  const other = card.pictures.get(5);
  // A metre wide and two high, its foot's middle on the joint, lying to the right of it.
  expect(other?.up[0]).toBeCloseTo(2);
  expect(other?.across[1]).toBeCloseTo(-1);
  expect(other?.corner[0]).toBeCloseTo(0);
  expect(other?.corner[1]).toBeCloseTo(0.5);
  expect(card.first.across).toEqual([2, 0]);
});

test('turned as a clock’s hands go, what was up is ahead; mirrored, it is behind', () => {
  const [turned] = cardsOf(figure({ turn_degrees: 90 }));
  expect(turned.first.up[0]).toBeCloseTo(1);
  expect(turned.first.up[1]).toBeCloseTo(0);
  const [mirrored] = cardsOf(figure({ turn_degrees: 90, mirrored: true }));
  expect(mirrored.first.up[0]).toBeCloseTo(-1);
  expect(mirrored.first.across[1]).toBeCloseTo(-2);
});
