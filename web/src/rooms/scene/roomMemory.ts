/** What the room looked like when it was left, so that it opens the same. */

import type { Window } from '../../desk/scale';
import type { Selection } from '../../desk/selection';
import { SOUND_HEIGHT } from '../../desk/sound/SoundRow';
import { stripHeight } from '../../desk/strands/picture';
import type { DeskOptions } from '../../desk/Transport';
import { VIEWS } from '../../stage/camera';
import type { StageView } from '../../stage/scene';
import { EYE_HEIGHT } from '../../stage/stagePainter';
import type { FixOptions } from './useFixing';

export interface RoomMemory {
  readonly view: StageView;
  readonly window: Window | null;
  /** The part that was seen before the whole. */
  readonly part: Window | null;
  readonly selection: Selection | null;
  readonly options: DeskOptions;
  readonly fixing: FixOptions;
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
  options: { snap: true, ripple: false, strands: false, sceneStrands: false, ruler: 'played' },
  fixing: { fadeIn: 4, fadeOut: 4, bothSides: false },
  deskHeight: null,
  drawerOpen: true,
};

const DESK_PIXELS = 250;

/** As high as the desk was drawn; until then higher where strands are unfolded on it, and for its sounds. */
export function deskPixels({ deskHeight, options }: RoomMemory, soundLanes: number): number | null {
  if (deskHeight !== null) return deskHeight;
  if (!(options.strands || options.sceneStrands || soundLanes)) return null;
  const wanted =
    DESK_PIXELS +
    SOUND_HEIGHT * soundLanes +
    (options.strands ? stripHeight(false) : 0) +
    (options.sceneStrands ? stripHeight(true) : 0);
  return Math.min(wanted, Math.round(0.64 * window.innerHeight));
}

export const memoryKey = (scene: string) => `hours/scene/${scene}`;
