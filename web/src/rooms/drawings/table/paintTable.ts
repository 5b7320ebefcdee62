/** The light table: a sheet on its pegs, the drawing inked, its neighbours in pencil under it. */

import {
  AMBER,
  INK,
  PAPER_DEEP,
  PENCIL_BLUE,
  PENCIL_RED,
  RULE,
  RULE_STRONG,
  SHEET,
} from '../../../stage/colour';
import type { PictureStore } from '../../../stage/pictureStore';
import type { Drawing } from '../room';
import type { PointSpacing } from '../spacing';

/** The sheet on the canvas: where its pegs are, and how many pixels its height takes. */
export interface TableFrame {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** The set's pegs, and pixels a sheet height. */
  readonly x: number;
  readonly y: number;
  readonly scale: number;
}

export interface OnTable {
  readonly shown: Drawing | null;
  /** The nearest first. */
  readonly before: readonly Drawing[];
  readonly after: readonly Drawing[];
  /** Drawings that were laid on the table by hand. */
  readonly laid: readonly Drawing[];
  readonly spacing: PointSpacing | null;
  readonly heightPixels: number;
  readonly point: string | null;
}

const MARGIN = 16;
const PEG_STRIP = 30;
const INSIDE = 18;
/** Sheets that lie under the uppermost one look out by so much. */
const UNDER = 6;
const FARTHEST_SHARE = 0.32;

/** Where the corners of a picture lie on the sheet, in its heights from the pegs, y up. */
function cornersOf({ placed }: Drawing): readonly (readonly [number, number])[] {
  const [a, b, c] = placed.across;
  const [d, e, f] = placed.up;
  return [
    [c, f],
    [a + c, d + f],
    [a + b + c, d + e + f],
    [b + c, e + f],
  ];
}

/** A sheet of paper as large as fits, on which all drawings of a set have their place. */
export function frameOf(drawings: Iterable<Drawing>, width: number, height: number): TableFrame {
  let [low, high, left, right] = [0, 1, -0.5, 0.5];
  for (const drawing of drawings) {
    for (const [x, y] of cornersOf(drawing)) {
      low = Math.min(low, y);
      high = Math.max(high, y);
      left = Math.min(left, x);
      right = Math.max(right, x);
    }
  }
  const roomWide = Math.max(60, width - 2 * MARGIN - 2 * INSIDE);
  const roomHigh = Math.max(60, height - 2 * MARGIN - PEG_STRIP - INSIDE);
  const scale = Math.min(roomWide / (right - left), roomHigh / (high - low));
  const top = MARGIN;
  const foot = height - MARGIN - INSIDE;
  return {
    left: MARGIN,
    top,
    width: width - 2 * MARGIN - UNDER,
    height: height - 2 * MARGIN - UNDER,
    x: width / 2 - ((left + right) / 2) * scale,
    y: foot + low * scale,
    scale,
  };
}

/** A place on the canvas, as a share of a picture from its left and its foot. */
export function shareAt(
  frame: TableFrame,
  { placed }: Drawing,
  x: number,
  y: number,
): readonly [number, number] {
  const [a, b, c] = placed.across;
  const [d, e, f] = placed.up;
  const across = (x - frame.x) / frame.scale - c;
  const up = (frame.y - y) / frame.scale - f;
  const whole = a * e - b * d;
  return [(across * e - b * up) / whole, (a * up - d * across) / whole];
}

export function paintTable(
  context: CanvasRenderingContext2D,
  frame: TableFrame,
  on: OnTable,
  pictures: PictureStore,
): void {
  paintPaper(context, frame);
  context.save();
  context.beginPath();
  context.rect(frame.left, frame.top, frame.width, frame.height);
  context.clip();
  for (const drawing of on.laid) {
    const picture = pictures.image(drawing.picture.file);
    if (picture) lay(context, frame, drawing, picture, 0.35);
  }
  if (on.shown) {
    const picture = pictures.image(on.shown.picture.file);
    if (picture) lay(context, frame, on.shown, picture, on.laid.length ? 0.86 : 1);
  }
  // The light comes from below: what lies under the sheet shows through all that is painted on it.
  context.globalCompositeOperation = 'multiply';
  const pencil = (drawings: readonly Drawing[], colour: string) => {
    // The farthest first, and the faintest.
    for (let at = drawings.length - 1; at >= 0; at -= 1) {
      const share = drawings.length > 1 ? at / (drawings.length - 1) : 0;
      const picture = pictures.tinted(drawings[at].picture.file, colour);
      if (picture) lay(context, frame, drawings[at], picture, 0.8 - share * (0.8 - FARTHEST_SHARE));
    }
  };
  pencil(on.after, PENCIL_RED);
  pencil(on.before, PENCIL_BLUE);
  context.globalCompositeOperation = 'source-over';
  paintSpacing(context, frame, on);
  context.restore();
}

function lay(
  context: CanvasRenderingContext2D,
  { x, y, scale }: TableFrame,
  { placed }: Drawing,
  picture: CanvasImageSource,
  opacity: number,
): void {
  const [a, b, c] = placed.across;
  const [d, e, f] = placed.up;
  context.save();
  context.globalAlpha = opacity;
  // A picture's own y runs down from its top edge.
  context.transform(
    scale * a,
    -scale * d,
    -scale * b,
    scale * e,
    x + scale * (b + c),
    y - scale * (e + f),
  );
  context.drawImage(picture, 0, 0, 1, 1);
  context.restore();
}

function paintPaper(context: CanvasRenderingContext2D, frame: TableFrame): void {
  const { left, top, width, height } = frame;
  context.save();
  context.fillStyle = SHEET;
  context.strokeStyle = RULE;
  for (const under of [6, 3, 0]) {
    context.beginPath();
    context.roundRect(left + under, top + under, width, height, 2);
    context.fill();
    context.stroke();
  }
  context.fillStyle = PAPER_DEEP;
  context.strokeStyle = RULE_STRONG;
  const middle = left + width / 2;
  const apart = Math.min(118, width / 3.4);
  for (const x of [middle - apart, middle + apart]) {
    context.beginPath();
    context.roundRect(x - 19, top + 9, 38, 10, 5);
    context.fill();
    context.stroke();
  }
  context.beginPath();
  context.arc(middle, top + 14, 6, 0, 2 * Math.PI);
  context.fill();
  context.stroke();
  context.restore();
}

/** The followed point: where it goes from drawing to drawing, and a tick at each. */
function paintSpacing(context: CanvasRenderingContext2D, frame: TableFrame, on: OnTable): void {
  const { spacing } = on;
  if (!spacing?.places.length) return;
  const at = ({ x_pixels, y_pixels }: PointSpacing['places'][number]) =>
    [
      frame.x + (x_pixels / on.heightPixels) * frame.scale,
      frame.y - (y_pixels / on.heightPixels) * frame.scale,
    ] as const;
  const here = on.shown?.number;
  context.save();
  context.strokeStyle = INK;
  context.lineWidth = 1;
  context.globalAlpha = 0.55;
  context.beginPath();
  for (const step of spacing.steps) {
    const from = spacing.places.find(({ drawing }) => drawing === step.before);
    const to = spacing.places.find(({ drawing }) => drawing === step.after);
    if (!from || !to) continue;
    context.moveTo(...at(from));
    context.lineTo(...at(to));
  }
  context.stroke();
  context.globalAlpha = 1;
  context.font = '11px "Spline Sans Mono", monospace';
  context.textAlign = 'center';
  const named = new Set<number>();
  for (const place of spacing.places) {
    if (named.has(place.drawing)) continue;
    named.add(place.drawing);
    const [x, y] = at(place);
    const isHere = place.drawing === here;
    context.beginPath();
    context.arc(x, y, isHere ? 5 : 3, 0, 2 * Math.PI);
    context.fillStyle = isHere ? AMBER : SHEET;
    context.fill();
    context.strokeStyle = INK;
    context.stroke();
    context.fillStyle = INK;
    context.fillText(String(place.drawing), x, y - 8);
  }
  context.restore();
}
