/** Where the playhead stood, and how it played, when a document was left. */

import { useEffect } from 'react';
import { recall, remember } from '../../app/remembered';
import type { Player, PlayerState } from '../../player/player';

const playerKey = (id: string) => `hours/player/${id}`;

type Kept = Partial<Omit<PlayerState, 'playing' | 'length'>> & { readonly frame?: number };

export function restorePlayer(player: Player, id: string): void {
  const kept = recall<Kept>(playerKey(id));
  if (!kept) return;
  if (kept.mode) player.setMode(kept.mode);
  if (kept.speed) player.setSpeed(kept.speed);
  if (kept.loop !== undefined) player.setLoop(kept.loop);
  if (kept.range) player.setRange(kept.range);
  if (kept.frame) player.goTo(kept.frame);
}

const SETTLE_MS = 150;

/** Keep where the playhead stands, and how it plays. */
export function useKeptPlayer(player: Player, id: string): void {
  useEffect(() => {
    let timer = 0;
    const keep = () => {
      const { mode, speed, loop, range } = player.snapshot();
      remember(playerKey(id), { mode, speed, loop, range, frame: player.frame });
    };
    const soon = () => {
      clearTimeout(timer);
      timer = window.setTimeout(keep, SETTLE_MS);
    };
    const offs = [player.onFrame(soon), player.subscribe(soon)];
    window.addEventListener('pagehide', keep);
    return () => {
      for (const off of offs) off();
      clearTimeout(timer);
      window.removeEventListener('pagehide', keep);
    };
  }, [player, id]);
}
