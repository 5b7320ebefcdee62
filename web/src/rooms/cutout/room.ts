/** What the parts of the cut-out’s room share. */

import type { CutOut, CutOutEdit, CutOutSheet } from '../../api/cutOuts';
import type { Player } from '../../player/player';

export interface CutOutParts {
  /** The cut-out as it is shown: as it stands, as a drag would make it, or as it was. */
  readonly view: CutOut;
  readonly sheet: CutOutSheet;
  readonly player: Player;
  readonly chosen: string | null;
  readonly onChoose: (part: string | null) => void;
  readonly onEdit: (edit: CutOutEdit) => void;
  readonly onPreview: (edit: CutOutEdit | null) => void;
}

/** A part put in front of the one that lies over it, or behind the one under it; none at either end. */
export function laid(
  names: readonly string[],
  part: string,
  towards: 'front' | 'back',
): readonly string[] | null {
  const place = names.indexOf(part);
  const other = place + (towards === 'front' ? 1 : -1);
  if (place < 0 || other < 0 || other >= names.length) return null;
  const order = [...names];
  [order[place], order[other]] = [order[other], order[place]];
  return order;
}
