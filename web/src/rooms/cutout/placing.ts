/** From the sheet, whose y goes up, to the page, whose y goes down; both in heights of the sheet. */

import type { Schemas } from '../../api/client';
import type { CutOutSheet } from '../../api/cutOuts';

const MARGIN = 0.06;

/** What takes the unit square of the page to where a picture lies. */
export function pictureTransform({ across, up }: Schemas['PlacedDrawing']): string {
  const matrix = [across[0], -up[0], -across[1], up[1], across[1] + across[2], -(up[1] + up[2])];
  return `matrix(${matrix.join(' ')})`;
}

/** What takes the page to where a part’s paper lies in a frame of the try. */
export function partTransform(lies: CutOutSheet['swing'][number][number] | undefined): string {
  if (!lies) return '';
  const [a, b, c, d, e, f] = lies;
  return `matrix(${[a, -b, -c, d, e, -f].join(' ')})`;
}

/** The part of the page that shows all the paper. */
export function viewBox([left, below, right, above]: CutOutSheet['reach']): string {
  const margin = MARGIN * Math.max(right - left, above - below);
  const [wide, high] = [right - left + 2 * margin, above - below + 2 * margin];
  return `${left - margin} ${-above - margin} ${wide} ${high}`;
}
