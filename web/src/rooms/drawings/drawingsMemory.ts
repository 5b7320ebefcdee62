/** What the drawings room looked like when it was left. */

import type { Window } from '../../desk/scale';

/** What the hand does on the light table. */
export type TableHand = 'look' | 'nudge' | 'mark';

export interface DrawingsMemory {
  /** Whether the light under the table is on, so that neighbours show through. */
  readonly light: boolean;
  readonly before: number;
  readonly after: number;
  readonly hand: TableHand;
  /** The point that is followed. */
  readonly point: string;
  /** Drawings that lie on the table beside those of the run, by their numbers. */
  readonly laid: readonly number[];
  readonly window: Window | null;
}

export const FIRST_DRAWINGS: DrawingsMemory = {
  light: true,
  before: 2,
  after: 2,
  hand: 'look',
  point: 'tip',
  laid: [],
  window: null,
};

export const drawingsKey = (run: string) => `hours/drawings/${run}`;
