import type { Cleaned, Cycle, TakeCurve } from '../../api/takes';
import { type Scale, xOf } from '../../desk/scale';

interface CurveRowProps {
  readonly label: string;
  /** A joint's turns about its three axes; that which moves most is drawn. */
  readonly curves: readonly TakeCurve[];
  readonly spikes: Cleaned['spikes'];
  readonly loop: Cycle | null;
  readonly scale: Scale;
}

const HEIGHT = 46;
const MARGIN = 5;
const LEAST_DEGREES = 4;

/** One joint's turn: as captured dotted in blue, as cleaned in ink, keys as ticks, between both a faint band. */
export function CurveRow({ label, curves, spikes, loop, scale }: CurveRowProps) {
  const curve = [...curves].sort((a, b) => spread(b.cleaned) - spread(a.cleaned))[0];
  if (!curve) return <div className="take-row" style={{ height: HEIGHT }} />;
  const y = axisOf(curve);
  const x = (frame: number) => xOf(scale, frame + 0.5);
  const line = (values: readonly number[]) =>
    values.map((value, frame) => `${frame ? 'L' : 'M'}${x(frame).toFixed(1)} ${y(value)}`).join('');
  const back = [...curve.cleaned.keys()].reverse();
  const band = `${line(curve.captured)}${back
    .map((frame) => `L${x(frame).toFixed(1)} ${y(curve.cleaned[frame])}`)
    .join('')}Z`;
  const axis = curve.channel.at(-1);
  return (
    <div className="take-row curve-row">
      <span className="row-label">
        {label}
        <small>turn {axis}, deg</small>
      </span>
      <svg
        width={scale.width}
        height={HEIGHT}
        role="img"
        aria-label={`${label}, turn about ${axis}: as captured and cleaned, ${curve.keys.length} keys`}
      >
        {loop && (
          <rect
            className="loop-wash"
            x={xOf(scale, loop.start)}
            width={(loop.end - loop.start) * scale.pixelsPerFrame}
            height={HEIGHT}
          />
        )}
        <path className="difference" d={band} />
        <path className="captured-line" d={line(curve.captured)} />
        <path className="cleaned-line" d={line(curve.cleaned)} />
        {curve.keys.map((frame) => {
          const at = y(curve.cleaned[Math.round(frame)] ?? 0);
          return (
            <path key={frame} className="key-tick" d={`M${x(frame)} ${at - 4.5}V${at + 4.5}`} />
          );
        })}
        {spikes.map((spike) => (
          <circle
            key={`${spike.mark.frame} ${spike.mark.joint}`}
            className={`spike-ring ${spike.refused ? 'is-refused' : ''}`}
            cx={x(spike.at)}
            cy={y(curve.captured[spike.at] ?? 0)}
            r="6"
          />
        ))}
      </svg>
    </div>
  );
}

/** How much a channel does most of the time: one swerve does not make it the joint’s own. */
function spread(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.floor(share * (sorted.length - 1))] ?? 0;
  return at(0.92) - at(0.08);
}

/** Degrees to pixels: what was cleaned fills the row, and spikes are cut at its edges. */
function axisOf(curve: TakeCurve): (value: number) => number {
  const low = Math.min(...curve.cleaned);
  const high = Math.max(...curve.cleaned);
  const range = Math.max(LEAST_DEGREES, high - low) * 1.25;
  const middle = (low + high) / 2;
  const pixels = HEIGHT - 2 * MARGIN;
  return (value) => {
    const at = HEIGHT / 2 - ((value - middle) / range) * pixels;
    return Math.round(10 * Math.max(2, Math.min(HEIGHT - 2, at))) / 10;
  };
}
