import { expect, test } from 'vitest';
import { shortWay } from './Dial';

test('the nearer way round is taken', () => {
  expect([shortWay(3, 24), shortWay(20, 24), shortWay(-20, 24)]).toEqual([3, -4, 4]);
});
