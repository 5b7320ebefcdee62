import { useEffect, useRef, useState } from 'react';
import type { SetHands } from './useSetChange';

/** A drawing on its way along its pegs, in pixels of the sheet, before it is let go. */
export interface Nudge {
  readonly number: number;
  readonly shift: readonly [number, number];
}

const SETTLE_MS = 250;

/** Nudging by keys: held, the drawing goes on; let alone for a moment, all of it is one step. */
export function useNudging(set: SetHands) {
  const [nudge, setNudge] = useState<Nudge | null>(null);
  const latest = useRef(nudge);
  latest.current = nudge;
  const { change } = set;
  useEffect(() => {
    if (!nudge) return undefined;
    const timer = setTimeout(() => {
      const [across, up] = nudge.shift;
      change(
        { kind: 'nudge_drawing', number: nudge.number, shift_pixels: [across, up] },
        // It stays where it was nudged to until the set says so too.
        { onSettled: () => setNudge((now) => (now === nudge ? null : now)) },
      );
    }, SETTLE_MS);
    return () => clearTimeout(timer);
  }, [nudge, change]);
  const by = (number: number, from: readonly [number, number], x: number, y: number) => {
    const start = latest.current?.number === number ? latest.current.shift : from;
    const moved: Nudge = { number, shift: [start[0] + x, start[1] + y] };
    latest.current = moved;
    setNudge(moved);
  };
  return { nudge, by };
}
