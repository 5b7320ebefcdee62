import { usePeaks } from '../api/sounds';
import { wavePath } from '../desk/sound/wave';

interface StripProps {
  readonly sound: string;
  readonly seconds: number;
  readonly label: string;
}

const WIDTH = 240;
const HEIGHT = 36;

/** A whole sound, small. */
export function WaveStrip({ sound, seconds, label }: StripProps) {
  const peaks = usePeaks(sound).data;
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
