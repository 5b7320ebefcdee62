import { useMemo } from 'react';
import { PENCIL_BLUE, PENCIL_RED } from './colour';
import { type Mouth, type MouthPictures, paintMouth } from './mouth';

/** A mouth in ink, or in the pencil of before or after. */
export type MouthLookName = 'ink' | 'before' | 'after';

const [WIDTH, HEIGHT] = [240, 180];
/** What of a chart is seen: wider than its halves, and lower, as jaws go down. */
const [HALF, MIDDLE] = [1.12, -0.24];
const PENCILS = { ink: null, before: PENCIL_BLUE, after: PENCIL_RED } as const;

/** A mouth as the address of a picture. */
export function mouthUrl(
  mouth: Mouth,
  pictures?: MouthPictures,
  look: MouthLookName = 'ink',
): string {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [WIDTH, HEIGHT];
  const context = canvas.getContext('2d');
  if (!context) return '';
  const half = WIDTH / 2 / HALF;
  const at = (x: number, y: number) => ({
    x: WIDTH / 2 + x * half,
    y: HEIGHT / 2 - (y - MIDDLE) * half,
  });
  const pencil = PENCILS[look];
  paintMouth(context, mouth, pictures, at, half, { weight: 1.25, ...(pencil && { pencil }) });
  return canvas.toDataURL();
}

interface PictureProps {
  readonly mouth: Mouth;
  readonly pictures?: MouthPictures | undefined;
}

/** A mouth as a small picture; what it is is said beside it. */
export function MouthPicture({ mouth, pictures }: PictureProps) {
  const url = useMemo(() => mouthUrl(mouth, pictures), [mouth, pictures]);
  return <img src={url} alt="" className="mouth-image" />;
}
