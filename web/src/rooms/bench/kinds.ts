/** Turn, move and scale: what of a joint can be keyed, and how its numbers are written. */

import type { Clip, Trace } from '../../api/clips';

export type Kind = Clip['bench']['curves'][number]['kind'];
export type Unit = Trace['unit'];

export const KINDS: readonly Kind[] = ['turn', 'move', 'scale'];

interface Written {
  readonly sign: string;
  readonly decimals: number;
  /** The least range that is drawn. */
  readonly least: number;
  /** What a key raises or lowers a value by. */
  readonly nudge: number;
}

export const WRITTEN: Readonly<Record<Unit, Written>> = {
  degrees: { sign: '°', decimals: 1, least: 4, nudge: 1 },
  metres: { sign: 'm', decimals: 3, least: 0.02, nudge: 0.01 },
  times: { sign: '×', decimals: 2, least: 0.1, nudge: 0.05 },
};
