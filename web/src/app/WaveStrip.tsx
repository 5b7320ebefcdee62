import { useRef } from 'react';
import { usePeaks } from '../api/sounds';
import { wavePath } from '../desk/sound/wave';
import { useNear } from './near';

interface StripProps {
  readonly sound: string;
  readonly seconds: number;
  readonly label: string;
}

const WIDTH = 240;
const HEIGHT = 36;

/** A whole sound, small. */
export function WaveStrip({ sound, seconds, label }: StripProps) {
  const place = useRef<SVGSVGElement>(null);
  const peaks = usePeaks(sound, useNear(place)).data;
  const wave = peaks
    ? wavePath(peaks, {
        left: 0,
        right: WIDTH,
        secondsAtZero: 0,
        secondsAPixel: seconds / WIDTH,
        middle: HEIGHT / 2,
        halfHeight: HEIGHT / 2 - 2,
        gainAt: () => 1,
      })
    : '';
  return (
    <svg
      ref={place}
      className="wave-strip"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={label}
    >
      <path d={wave} />
    </svg>
  );
}
