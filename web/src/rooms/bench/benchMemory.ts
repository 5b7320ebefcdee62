/** What the bench looked like when it was left. Record is not among it: it is off when one comes in. */

import type { Schemas } from '../../api/client';
import { VIEWS } from '../../stage/camera';
import type { StageView } from '../../stage/scene';
import { EYE_HEIGHT } from '../../stage/stagePainter';
import { KINDS, type Kind } from './kinds';

export type SideTab = 'seam' | 'walk' | 'feet' | 'cycle' | 'beats' | 'uses';
export type Scope = NonNullable<Schemas['Favour']['scope']>;

export interface FavourWish {
  /** In percent of the way from the key before to the key after. */
  readonly share: number;
  readonly scope: Scope;
  readonly kinds: readonly Kind[];
  readonly fence: number | null;
}

export interface BenchMemory {
  readonly view: StageView;
  readonly inPlace: boolean;
  readonly joints: boolean;
  readonly bothSides: boolean;
  /** What K keys. */
  readonly kinds: readonly Kind[];
  readonly chosen: readonly string[];
  readonly folded: readonly string[];
  readonly tab: SideTab;
  readonly favour: FavourWish;
  readonly rates: boolean;
  /** The tracing picture is shown. */
  readonly tracing: boolean;
  readonly deskHeight: number | null;
  /** Moved and scaled keys land on whole frames. */
  readonly snap: boolean;
}

export const FIRST_BENCH: BenchMemory = {
  view: {
    orbit: { ...VIEWS.Side, distance: 5.4 },
    ghosts: { shown: true, count: 1, step: 3, inLoop: false, ofKeys: true, spread: true },
    follow: true,
    target: [0, EYE_HEIGHT, 0],
    watched: null,
    arcs: { shown: true, joints: [] },
    prints: false,
    planInset: false,
    counts: false,
  },
  inPlace: true,
  joints: true,
  bothSides: false,
  kinds: KINDS,
  chosen: [],
  folded: [],
  tab: 'seam',
  favour: { share: 50, scope: 'chosen', kinds: KINDS, fence: null },
  rates: false,
  tracing: true,
  deskHeight: null,
  snap: true,
};

export const benchKey = (clip: string) => `hours/bench/${clip}`;
