/** What can be done with strands. */

import type { PointerEvent } from 'react';
import type { Strands } from './picture';

/** Which elastic: a stint’s, or the scene’s. */
export type ElasticOf = string | null;

export interface StrandActions {
  readonly choosePin: (of: ElasticOf, pin: number) => void;
  readonly grabPin: (
    event: PointerEvent,
    of: ElasticOf,
    strands: Strands,
    pin: number,
    end: 'played' | 'source',
  ) => void;
  readonly nudgePin: (of: ElasticOf, strands: Strands, pin: number, frames: number) => void;
  readonly removePin: (of: ElasticOf, pin: number) => void;
  readonly grabThread: (
    event: PointerEvent,
    of: ElasticOf,
    strands: Strands,
    thread: { readonly played: number; readonly source: number },
    end: 'played' | 'source',
  ) => void;
  readonly grabLevel: (
    event: PointerEvent,
    of: ElasticOf,
    strands: Strands,
    pin: number,
    pixelsPerPace: number,
  ) => void;
  readonly grabCorner: (event: PointerEvent, of: ElasticOf, strands: Strands, pin: number) => void;
  readonly nudgeLevel: (of: ElasticOf, pin: number, pace: number) => void;
  readonly straighten: (of: ElasticOf) => void;
  readonly goToPlayed: (of: ElasticOf, played: number) => void;
}
