/** What is burnt into a print: words along its foot, and a mark that a machine reads. */

import { INK, SHEET } from '../stage/colour';

const MARGIN_SHARE = 0.022;
const TEXT_SHARE = 0.026;
const LEAST_TEXT_PIXELS = 11;

/** Words along the foot of the picture, at its left and at its right. */
export function paintBurnt(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  [left, right]: readonly [string, string],
): void {
  const size = Math.max(LEAST_TEXT_PIXELS, Math.round(height * TEXT_SHARE));
  const margin = Math.round(height * MARGIN_SHARE);
  context.save();
  context.font = `500 ${size}px "Spline Sans Mono", monospace`;
  context.textBaseline = 'middle';
  for (const [text, isRight] of [
    [left, false],
    [right, true],
  ] as const) {
    if (!text) continue;
    const most = width / 2 - 1.5 * margin;
    const wide = Math.min(most, context.measureText(text).width + 1.4 * size);
    const x = isRight ? width - margin - wide : margin;
    const y = height - margin - 1.7 * size;
    context.globalAlpha = 0.82;
    context.fillStyle = INK;
    context.fillRect(x, y, wide, 1.7 * size);
    context.globalAlpha = 1;
    context.fillStyle = SHEET;
    context.fillText(text, x + 0.7 * size, y + 0.85 * size, wide - 1.4 * size);
  }
  context.restore();
}

/** As many cells as a frame’s number has bits, after a white one and a black one. */
const MARK_BITS = 16;
const MARK_CELL_PIXELS = 16;

/** A frame’s number in black and white cells at the upper left, the highest bit first; black is one. */
export function paintMark(context: CanvasRenderingContext2D, frame: number): void {
  const bits = [0, 1];
  for (let bit = MARK_BITS - 1; bit >= 0; bit--) bits.push((frame >> bit) & 1);
  for (const [place, bit] of bits.entries()) {
    context.fillStyle = bit ? '#000000' : '#ffffff';
    context.fillRect(place * MARK_CELL_PIXELS, 0, MARK_CELL_PIXELS, MARK_CELL_PIXELS);
  }
}
