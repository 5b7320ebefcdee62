/** Boiling ink: how far each ball of a costume strays in one tracing, the same on every machine. */

import type { Costume } from './costume';

interface Strays {
  readonly metres: number;
  /** From −1 to 1, for each ball. */
  readonly across: Float64Array;
  readonly down: Float64Array;
}

type Tracing = Omit<Strays, 'metres'>;

const traced = new WeakMap<Costume, Map<number, Tracing>>();
/** Tracings are few and come again and again. */
const MOST_TRACINGS = 64;

export function straysOf(
  costume: Costume,
  ink: { readonly metres: number; readonly tracing: number },
): Strays {
  let known = traced.get(costume);
  if (!known) {
    known = new Map();
    traced.set(costume, known);
  }
  let tracing = known.get(ink.tracing);
  if (!tracing) {
    tracing = traceAnew(costume, ink.tracing);
    if (known.size >= MOST_TRACINGS) known.clear();
    known.set(ink.tracing, tracing);
  }
  return { metres: ink.metres, ...tracing };
}

function traceAnew(costume: Costume, tracing: number): Tracing {
  const count = costume.balls.length;
  const found = { across: new Float64Array(count), down: new Float64Array(count) };
  for (let ball = 0; ball < count; ball++) {
    const { joint, offset } = costume.balls[ball];
    // Balls on one spot stray together: where two pieces meet they go on meeting.
    let key = mixed(joint + 1, tracing);
    for (const value of offset) key = mixed(key, Math.round(value * 10_000));
    found.across[ball] = share(mixed(key, 1));
    found.down[ball] = share(mixed(key, 2));
  }
  return found;
}

/** Two whole numbers as one that looks like chance (after the finaliser of MurmurHash3, A. Appleby). */
export function mixed(a: number, b: number): number {
  let h = Math.imul(a ^ Math.imul(b, 0x9e3779b1), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}

const share = (key: number): number => (key >>> 0) / 2_147_483_648 - 1;
