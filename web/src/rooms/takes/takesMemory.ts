/** What the takes room looked like when it was left. */

import { VIEWS } from '../../stage/camera';
import type { StageView } from '../../stage/scene';
import { EYE_HEIGHT } from '../../stage/stagePainter';

export type Compare = 'beside' | 'under' | 'captured' | 'cleaned';
export type TakeTab = 'cycle' | 'lost' | 'spikes' | 'figure' | 'beats';

/** The take's frames that are cleaned and shown, `[start, end)`. */
export interface TakeWindow {
  readonly start: number;
  readonly end: number;
}

export interface TakesMemory {
  readonly view: StageView;
  readonly compare: Compare;
  readonly tab: TakeTab;
  /** Whose curves are shown. */
  readonly joints: readonly string[];
  readonly strands: boolean;
  readonly window: TakeWindow | null;
  readonly deskHeight: number | null;
}

export const FIRST_TAKES: TakesMemory = {
  view: {
    orbit: { ...VIEWS['Three-quarter'], distance: 6.2 },
    ghosts: { shown: false, count: 2, step: 4, inLoop: false },
    follow: true,
    target: [0, EYE_HEIGHT, 0],
    watched: null,
    arcs: { shown: true, joints: [] },
    prints: true,
    planInset: false,
    counts: false,
  },
  compare: 'beside',
  tab: 'cycle',
  joints: [],
  strands: true,
  window: null,
  deskHeight: null,
};

export const takesKey = (take: string) => `hours/takes/${take}`;
