/** Frames across the desk: which part of the time is seen, and where a frame lies. */

export const LABEL_WIDTH = 120;
const RIGHT_MARGIN = 18;
const MOST_PIXELS_PER_FRAME = 40;

export interface Scale {
  /** The first frame seen, from 0, and the pixels each frame takes. */
  readonly start: number;
  readonly pixelsPerFrame: number;
  readonly width: number;
}

export function fitScale(length: number, width: number): Scale {
  const room = Math.max(100, width - LABEL_WIDTH - RIGHT_MARGIN);
  return { start: 0, pixelsPerFrame: Math.min(MOST_PIXELS_PER_FRAME, room / length), width };
}

export const xOf = (scale: Scale, frame: number): number =>
  LABEL_WIDTH + (frame - scale.start) * scale.pixelsPerFrame;

export const frameAt = (scale: Scale, x: number): number =>
  scale.start + (x - LABEL_WIDTH) / scale.pixelsPerFrame;

/** Nearer or farther about the frame under the pointer. */
export function zoomed(scale: Scale, length: number, x: number, factor: number): Scale {
  const fit = fitScale(length, scale.width).pixelsPerFrame;
  const wanted = scale.pixelsPerFrame * factor;
  const pixelsPerFrame = Math.min(MOST_PIXELS_PER_FRAME, Math.max(fit, wanted));
  const held = frameAt(scale, x);
  const start = held - (x - LABEL_WIDTH) / pixelsPerFrame;
  return kept({ ...scale, pixelsPerFrame, start }, length);
}

export const panned = (scale: Scale, length: number, pixels: number): Scale =>
  kept({ ...scale, start: scale.start + pixels / scale.pixelsPerFrame }, length);

function kept(scale: Scale, length: number): Scale {
  const seen = (scale.width - LABEL_WIDTH - RIGHT_MARGIN) / scale.pixelsPerFrame;
  return { ...scale, start: Math.max(0, Math.min(length - seen, scale.start)) };
}

const STEPS = [1, 2, 4, 6, 12, 24, 48, 120, 240, 480, 1200, 2400, 4800, 12000, 24000];
const LEAST_PIXELS = 40;

/** How many frames lie between two numbers of the ruler. */
export const rulerStep = (scale: Scale): number =>
  STEPS.find((step) => step * scale.pixelsPerFrame >= LEAST_PIXELS) ?? STEPS[STEPS.length - 1];
