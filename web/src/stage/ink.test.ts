import { expect, test } from 'vitest';
import type { Costume } from './costume';
import { mixed, straysOf } from './ink';

const costume = {
  balls: [
    { joint: 0, offset: [0, 0, 0] },
    { joint: 1, offset: [0, 0.2, 0] },
    { joint: 1, offset: [0, 0.2, 0] },
    { joint: 1, offset: [0, 0.3, 0] },
  ],
} as unknown as Costume;

test('a tracing strays the same every time, and another one otherwise', () => {
  const one = straysOf(costume, { metres: 0.01, tracing: 6 });
  const again = straysOf(costume, { metres: 0.01, tracing: 6 });
  const other = straysOf(costume, { metres: 0.01, tracing: 7 });
  expect([...one.across]).toEqual([...again.across]);
  expect([...one.across]).not.toEqual([...other.across]);
  expect(one.metres).toBe(0.01);
});

test('balls on one spot stray together, and none farther than it may', () => {
  for (let tracing = 1; tracing < 200; tracing++) {
    const { across, down } = straysOf(costume, { metres: 1, tracing });
    expect(across[1]).toBe(across[2]);
    expect(across[1]).not.toBe(across[3]);
    for (const one of [...across, ...down]) expect(Math.abs(one)).toBeLessThanOrEqual(1);
  }
});

test('what looks like chance is spread evenly', () => {
  const shares = Array.from({ length: 4000 }, (_, k) => (mixed(k, 3) >>> 0) / 2 ** 32);
  const mean = shares.reduce((sum, one) => sum + one, 0) / shares.length;
  expect(mean).toBeCloseTo(0.5, 1);
  const tenths = Array.from({ length: 10 }, (_, k) =>
    shares.filter((s) => Math.floor(s * 10) === k),
  );
  for (const tenth of tenths) expect(tenth.length).toBeGreaterThan(300);
});
