/** What the room looked like when it was left, so that it opens the same. */

import { useEffect } from 'react';
import { recall, remember } from '../../app/remembered';
import type { Window } from '../../desk/scale';
import type { Selection } from '../../desk/selection';
import type { DeskOptions } from '../../desk/Transport';
import type { Player, PlayerState } from '../../player/player';
import { VIEWS } from '../../stage/camera';
import { EYE_HEIGHT, type StageView } from '../../stage/stagePainter';

export interface RoomMemory {
  readonly view: StageView;
  readonly window: Window | null;
  /** The part that was seen before the whole. */
  readonly part: Window | null;
  readonly selection: Selection | null;
  readonly options: DeskOptions;
  readonly deskHeight: number | null;
  readonly drawerOpen: boolean;
}

export const FIRST_LOOK: RoomMemory = {
  view: {
    orbit: VIEWS['Three-quarter'],
    ghosts: { shown: true, count: 2, step: 8, inLoop: false },
    follow: true,
    target: [0, EYE_HEIGHT, 0],
    watched: null,
    arcs: { shown: true, joints: [] },
    prints: true,
    planInset: true,
    counts: false,
  },
  window: null,
  part: null,
  selection: null,
  options: { snap: true, ripple: false },
  deskHeight: null,
  drawerOpen: true,
};

export const memoryKey = (scene: string) => `hours/scene/${scene}`;
const playerKey = (scene: string) => `hours/player/${scene}`;

type Kept = Partial<Omit<PlayerState, 'playing' | 'length'>> & { readonly frame?: number };

export function restorePlayer(player: Player, scene: string): void {
  const kept = recall<Kept>(playerKey(scene));
  if (!kept) return;
  if (kept.mode) player.setMode(kept.mode);
  if (kept.speed) player.setSpeed(kept.speed);
  if (kept.loop !== undefined) player.setLoop(kept.loop);
  if (kept.range) player.setRange(kept.range);
  if (kept.frame) player.goTo(kept.frame);
}

const SETTLE_MS = 150;

/** Keep where the playhead stands, and how it plays. */
export function useKeptPlayer(player: Player, scene: string): void {
  useEffect(() => {
    let timer = 0;
    const keep = () => {
      const { mode, speed, loop, range } = player.snapshot();
      remember(playerKey(scene), { mode, speed, loop, range, frame: player.frame });
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
  }, [player, scene]);
}
