/** Copied stints, kept in this browser so that they can be laid in another scene or tab. */

import type { Schemas } from '../../api/client';
import { newId } from '../../api/newId';
import { recall, remember } from '../../app/remembered';
import type { Fitted } from './FitSheet';
import type { Edit } from './useScene';

type Desk = Schemas['Desk'];
type Copy = Extract<Edit, { kind?: 'paste_stints' }>['copies'][number];

interface Copied {
  readonly rate: string;
  readonly copies: readonly Copy[];
  /** What was copied of one clip or group, and the figure that it was made for. */
  readonly of: (Fitted & { readonly madeFor: string }) | null;
}

const PLACE = 'hours/copied';

export function copyStints(desk: Desk, ids: readonly string[]): number {
  const lanes = desk.lanes.filter((lane) => lane.stints.some((stint) => ids.includes(stint.id)));
  const copies = lanes.flatMap((lane, row) =>
    lane.stints
      .filter((stint) => ids.includes(stint.id))
      .map((stint) => ({ stint: stint.made, row })),
  );
  const stints = lanes.flatMap((lane) => lane.stints.filter((stint) => ids.includes(stint.id)));
  const [first] = stints;
  const isOne = new Set(stints.map((stint) => stint.made_for)).size === 1;
  const of = isOne ? { ...first.source, name: first.clip_name, madeFor: first.made_for } : null;
  if (copies.length) remember(PLACE, { rate: desk.rate, copies, of });
  return copies.length;
}

/** What was copied of one figure's, to be fitted to another. */
export const copiedOf = (): Copied['of'] => recall<Copied>(PLACE)?.of ?? null;

/** The edit that lays what was copied at a frame; none where nothing was. */
export function pasteAt(frame: number, lane: string | null, ripple: boolean): Edit | null {
  const copied = recall<Copied>(PLACE);
  if (!copied?.copies.length) return null;
  const copies = copied.copies.map((copy) => ({
    ...copy,
    stint: { ...copy.stint, id: newId() },
  }));
  return { kind: 'paste_stints', copies, rate: copied.rate, frame, lane, ripple };
}
