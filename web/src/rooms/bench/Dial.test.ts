import { expect, test } from 'vitest';
import { drawnContact, shortWay } from './Dial';

const PLANT = { place: 2, start: 20, end: 30 };

test('a contact is drawn along, over the seam too', () => {
  const edit = drawnContact(PLANT, 'body', 6, 24);
  expect(edit).toEqual({ kind: 'set_plant', place: 2, joint: null, start: 26, end: 36 });
});

test('an end is drawn no farther than a frame from the other, and no more than a round', () => {
  expect(drawnContact(PLANT, 'start', 3, 24)).toMatchObject({ start: 23, end: 30 });
  expect(drawnContact(PLANT, 'start', 40, 24)).toMatchObject({ start: 29, end: 30 });
  expect(drawnContact(PLANT, 'end', -40, 24)).toMatchObject({ start: 20, end: 21 });
  expect(drawnContact(PLANT, 'end', 40, 24)).toMatchObject({ start: 20, end: 44 });
});

test('the nearer way round is taken', () => {
  expect([shortWay(3, 24), shortWay(20, 24), shortWay(-20, 24)]).toEqual([3, -4, 4]);
});
