/** How a motion file is to be brought in. */

import type { Schemas } from '../../../api/client';
import type { Colour } from '../../../app/ColourChoice';

export interface Wish {
  readonly name: string;
  /** Frames of the file, `[start, end)`. */
  readonly start: number;
  readonly end: number;
  readonly rate: string;
  readonly metresPerUnit: number;
  readonly plays: 'found' | 'cycle' | 'once';
  readonly colour: Colour | null;
  /** The figure that is to play it; none is a lay figure of its own. */
  readonly onto: string | null;
  readonly mapping: Readonly<Record<string, string>>;
  readonly figureName: string;
  /** A clip as it is, or a take that is kept as it came and cleaned. */
  readonly as: 'clip' | 'take';
}

export function firstWish(report: Schemas['FileReport']): Wish {
  return {
    name: report.suggested_name,
    start: 0,
    end: report.frames,
    rate: report.rate,
    metresPerUnit: report.metres_per_unit,
    plays: 'found',
    colour: null,
    onto: null,
    mapping: {},
    figureName: '',
    as: report.why_a_take.length ? 'take' : 'clip',
  };
}

export function rateText(rate: string): string {
  const [top, bottom] = rate.split('/').map(Number);
  const value = bottom ? top / bottom : top;
  return `${Number(value.toFixed(3))} fps`;
}

/** Units that a skeleton may be measured in, in metres. */
export const UNITS: readonly { readonly text: string; readonly metres: number }[] = [
  { text: 'metres', metres: 1 },
  { text: 'centimetres', metres: 0.01 },
  { text: 'millimetres', metres: 0.001 },
  { text: 'inches', metres: 0.0254 },
  { text: 'feet', metres: 0.3048 },
];
