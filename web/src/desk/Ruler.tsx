import { frameAt, rulerStep, type Scale, xOf } from './scale';

interface RulerProps {
  readonly scale: Scale;
  readonly length: number;
  readonly firstFrame: number;
  readonly onScrub: (frame: number) => void;
}

export const RULER_HEIGHT = 24;

/** Frames as the scene shows them; press or draw along it to scrub. */
export function Ruler({ scale, length, firstFrame, onScrub }: RulerProps) {
  const step = rulerStep(scale);
  const scrub = (event: React.PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    onScrub(Math.floor(frameAt(scale, event.clientX - box.left)));
  };
  const last = firstFrame + length - 1;
  const numbers = [firstFrame];
  for (let shown = Math.ceil((firstFrame + 1) / step) * step; shown <= last; shown += step) {
    numbers.push(shown);
  }
  const middle = (shown: number) => xOf(scale, shown - firstFrame + 0.5);
  const seen = numbers.filter(
    (n) => middle(n) >= xOf(scale, scale.start) - 1 && middle(n) < scale.width,
  );
  return (
    <svg
      width={scale.width}
      height={RULER_HEIGHT}
      role="img"
      aria-label={`Frames ${firstFrame} to ${last}`}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        scrub(event);
      }}
      onPointerMove={(event) => {
        if (event.currentTarget.hasPointerCapture(event.pointerId)) scrub(event);
      }}
    >
      <rect width={scale.width} height={RULER_HEIGHT} fill="var(--paper)" />
      <path d={`M0 ${RULER_HEIGHT - 0.5}H${scale.width}`} stroke="var(--rule)" />
      <g fill="var(--sheet)" stroke="var(--rule-strong)" strokeWidth="1.1">
        <rect x="18" y="8.5" width="20" height="7" rx="3.5" />
        <circle cx="58" cy="12" r="4.6" />
        <rect x="78" y="8.5" width="20" height="7" rx="3.5" />
      </g>
      {seen.map((shown, place) => (
        <g key={shown}>
          <path d={`M${middle(shown)} 18V24`} stroke="var(--graphite)" />
          {(place === 0 || middle(shown) - middle(seen[0]) > 26) && (
            <text className="ruler-number" x={middle(shown)} y="14" textAnchor="middle">
              {shown}
            </text>
          )}
        </g>
      ))}
    </svg>
  );
}
