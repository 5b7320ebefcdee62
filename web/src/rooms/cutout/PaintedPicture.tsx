import type { Schemas } from '../../api/client';
import { pictureShown } from '../../api/drawings';

interface PaintedPictureProps {
  readonly production: string;
  readonly picture: Schemas['Picture'];
}

/** A picture of a layered set, cut to its paint: a hand is as large as a coat. What it is is said beside it. */
export function PaintedPicture({ production, picture }: PaintedPictureProps) {
  const { width_pixels: wide, height_pixels: high } = picture;
  const [left, below, right, above] = picture.painted ?? [0, 0, 1, 1];
  const box = [left * wide, (1 - above) * high, (right - left) * wide, (above - below) * high];
  return (
    <svg className="painted-picture" viewBox={box.join(' ')} aria-hidden="true">
      <image
        href={pictureShown(production, picture.file, 'shown')}
        width={wide}
        height={high}
        preserveAspectRatio="none"
      />
    </svg>
  );
}
