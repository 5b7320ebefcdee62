/** Frames across the desk: which part of the time is seen, and where a frame lies. */

export const LABEL_WIDTH = 158;
const RIGHT_MARGIN = 18;
const MOST_PIXELS_PER_FRAME = 40;

export interface Scale {
  /** The first frame seen, from 0, and the pixels each frame takes. */
  readonly start: number;
  readonly pixelsPerFrame: number;
  readonly width: number;
}

/** The part of the time that is seen, without the width it is seen in. */
export interface Window {
  readonly start: number;
  readonly frames: number;
}

const roomIn = (width: number): number => Math.max(100, width - LABEL_WIDTH - RIGHT_MARGIN);

export function fitScale(length: number, width: number): Scale {
  const pixelsPerFrame = Math.min(MOST_PIXELS_PER_FRAME, roomIn(width) / length);
  return { start: 0, pixelsPerFrame, width };
}

export function scaleOf(window: Window | null, length: number, width: number): Scale {
  if (!window) return fitScale(length, width);
  const fit = fitScale(length, width).pixelsPerFrame;
  const wanted = roomIn(width) / window.frames;
  const pixelsPerFrame = Math.min(MOST_PIXELS_PER_FRAME, Math.max(fit, wanted));
  return kept({ start: window.start, pixelsPerFrame, width }, length);
}

/** None where the whole is seen. */
export function windowOf(scale: Scale, length: number): Window | null {
  const frames = roomIn(scale.width) / scale.pixelsPerFrame;
  return frames >= length - 1e-6 ? null : { start: scale.start, frames };
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

/** Just far enough along for a frame to be seen. */
export function showing(scale: Scale, length: number, frame: number): Scale {
  const seen = roomIn(scale.width) / scale.pixelsPerFrame;
  if (frame >= scale.start && frame < scale.start + seen) return scale;
  return kept({ ...scale, start: frame - seen / 3 }, length);
}

function kept(scale: Scale, length: number): Scale {
  const seen = roomIn(scale.width) / scale.pixelsPerFrame;
  return { ...scale, start: Math.max(0, Math.min(length - seen, scale.start)) };
}

const STEPS = [1, 2, 4, 6, 12, 24, 48, 120, 240, 480, 1200, 2400, 4800, 12000, 24000];
const LEAST_PIXELS = 40;

/** How many frames lie between two numbers of the ruler. */
export const rulerStep = (scale: Scale): number =>
  STEPS.find((step) => step * scale.pixelsPerFrame >= LEAST_PIXELS) ?? STEPS[STEPS.length - 1];
