/** The picture of a sound: strokes of the pen, as far up and down as it swings. */

import type { Peaks } from '../../api/sounds';

interface WaveFrame {
  /** Pixels between which it is drawn, and the seconds of the sound at pixel 0 and in each pixel. */
  readonly left: number;
  readonly right: number;
  readonly secondsAtZero: number;
  readonly secondsAPixel: number;
  readonly middle: number;
  readonly halfHeight: number;
  /** How loud it is played, at a moment of the sound. */
  readonly gainAt: (seconds: number) => number;
}

const STROKE_EVERY_PIXELS = 3;
const LEAST_STROKE = 0.4;

/** A path of upright strokes; nothing where the sound is silent but a thin line. */
export function wavePath(peaks: Peaks, frame: WaveFrame): string {
  const { values, secondsAPeak } = peaks;
  const { left, right, secondsAtZero, secondsAPixel, middle, halfHeight, gainAt } = frame;
  const parts: string[] = [];
  const first = Math.ceil(left / STROKE_EVERY_PIXELS) * STROKE_EVERY_PIXELS;
  for (let x = first; x < right; x += STROKE_EVERY_PIXELS) {
    const at = secondsAtZero + x * secondsAPixel;
    const from = Math.max(0, Math.floor(at / secondsAPeak));
    const span = Math.ceil((STROKE_EVERY_PIXELS * secondsAPixel) / secondsAPeak);
    const to = Math.min(values.length / 2, from + Math.max(1, span));
    let [low, high] = [128, 128];
    for (let bin = from; bin < to; bin++) {
      low = Math.min(low, values[2 * bin]);
      high = Math.max(high, values[2 * bin + 1]);
    }
    const scale = (gainAt(at) * halfHeight) / 127;
    const up = Math.min(halfHeight, Math.max(LEAST_STROKE, (high - 128) * scale));
    const down = Math.min(halfHeight, Math.max(LEAST_STROKE, (128 - low) * scale));
    parts.push(`M${x} ${(middle - up).toFixed(1)}V${(middle + down).toFixed(1)}`);
  }
  return parts.join('');
}

/** How loud a laid sound is at a moment of its file: its level, and how far it has faded. */
export function gainOf(sound: {
  readonly level_db: number;
  readonly in_seconds: number;
  readonly seconds: number;
  readonly fade_in_seconds: number;
  readonly fade_out_seconds: number;
}): (seconds: number) => number {
  const level = 10 ** (sound.level_db / 20);
  return (seconds) => {
    const own = seconds - sound.in_seconds;
    const risen = sound.fade_in_seconds ? own / sound.fade_in_seconds : 1;
    const left = sound.fade_out_seconds ? (sound.seconds - own) / sound.fade_out_seconds : 1;
    return level * Math.max(0, Math.min(1, risen, left));
  };
}
