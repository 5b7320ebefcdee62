import { useSyncExternalStore } from 'react';
import type { Player } from '../../player/player';

/**
 * The frame at the playhead, for what only matters while one stands still: in play it stays where
 * play began, so that React does not render per frame.
 */
export function useFrame(player: Player): number {
  return useSyncExternalStore(
    (changed) => {
      const offs = [player.onFrame(changed), player.subscribe(changed)];
      return () => {
        for (const off of offs) off();
      };
    },
    () => (player.snapshot().playing ? lastStill(player) : still(player)),
  );
}

const kept = new WeakMap<Player, number>();
const lastStill = (player: Player): number => kept.get(player) ?? player.frame;
function still(player: Player): number {
  kept.set(player, player.frame);
  return player.frame;
}
