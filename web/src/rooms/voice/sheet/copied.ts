/** What was copied of a sheet: mouths by their distance from the first row. */

import type { Exposed } from '../../../api/lines';
import type { Range } from '../../../player/player';

type Mouths = readonly {
  readonly frame: number;
  readonly length: number;
  readonly mouth: string;
}[];

export interface SheetCopy {
  readonly mouths: Mouths;
}

/** What shows over some rows, cut at both ends. */
export function copiedFrom(run: readonly Exposed[], { start, end }: Range): SheetCopy {
  const mouths = run
    .filter((one) => one.frame < end && one.frame + one.length > start)
    .map(({ frame, length, mouth }) => {
      const first = Math.max(frame, start);
      return { frame: first - start, length: Math.min(frame + length, end) - first, mouth };
    });
  return { mouths };
}

/** The same from another row on, as far as the line goes. */
export const pastedAt = ({ mouths }: SheetCopy, at: number, frames: number) =>
  mouths
    .filter(({ frame }) => at + frame < frames)
    .map(({ frame, length, mouth }) => ({
      frame: at + frame,
      length: Math.min(length, frames - at - frame),
      mouth,
    }));
