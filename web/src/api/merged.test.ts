import { expect, it } from 'vitest';
import { merged } from './merged';

const row = (id: string, value: number) => ({ id, value });
const idOf = ({ id }: { id: string }) => id;

it('takes what was brought, keeps what was left out, and drops what is gone', () => {
  const known = [row('a', 1), row('b', 2), row('c', 3)];
  const rows = merged(['d', 'a', 'b'], idOf, [row('b', 20), row('d', 40)], known);
  expect(rows).toEqual([row('d', 40), row('a', 1), row('b', 20)]);
  expect(rows[1]).toBe(known[0]);
});
