import { useSyncExternalStore } from 'react';
import type { PlayerState } from './player';

/** What stands on a frame: a player, or a playhead over laid time. */
interface Standing {
  readonly frame: number;
  readonly snapshot: () => PlayerState;
  subscribe(hear: () => void): () => void;
  onFrame(hear: () => void): () => void;
}

/**
 * The frame at the playhead, for what only matters while one stands still: in play it stays where
 * play began, so that React does not render per frame.
 */
export function useFrame(at: Standing): number {
  return useSyncExternalStore(
    (changed) => {
      const offs = [at.onFrame(changed), at.subscribe(changed)];
      return () => {
        for (const off of offs) off();
      };
    },
    () => (at.snapshot().playing ? lastStill(at) : still(at)),
  );
}

const kept = new WeakMap<Standing, number>();
const lastStill = (at: Standing): number => kept.get(at) ?? at.frame;
function still(at: Standing): number {
  kept.set(at, at.frame);
  return at.frame;
}
