import { type MouseEvent, useEffect, useMemo, useRef } from 'react';
import type { Cycle, Cycles } from '../../../api/takes';
import { GOOD, mix, SHEET } from '../../../stage/colour';

interface MapProps {
  readonly found: Cycles;
  /** The take's frame of each frame of the result. */
  readonly at: readonly number[];
  readonly loop: Cycle | null;
  readonly most: number;
  readonly onLoop: (loop: Cycle) => void;
}

const PIXELS = 208;
const LEFT = 40;
const TOP = 6;

/** Every frame against every other: dark where poses are alike. Starts lie across, ends down. */
export function SimilarityMap({ found, at, loop, most, onLoop }: MapProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const side = found.cells_a_side;
  const image = useMemo(() => imageOf(found), [found]);
  useEffect(() => {
    canvas.current?.getContext('2d')?.putImageData(image, 0, 0);
  }, [image]);
  const frames = side * found.frames_a_cell;
  const place = (frame: number) => (PIXELS * frame) / frames;
  const ringed = found.cycles.slice(0, most);
  const press = (event: MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - box.left - LEFT;
    const y = event.clientY - box.top - TOP;
    const near = ringed
      .map((one) => ({ one, off: Math.hypot(place(one.start) - x, place(one.end) - y) }))
      .sort((a, b) => a.off - b.off)[0];
    if (near && near.off < 14) onLoop(near.one);
  };
  const numbers = [0.25, 0.5, 0.75].map((share) => Math.round(share * frames));
  return (
    <div className="similarity">
      <canvas
        ref={canvas}
        width={side}
        height={side}
        style={{ width: PIXELS, height: PIXELS, left: LEFT, top: TOP }}
      />
      {/* Loops are also chosen from the table below. */}
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: each ring has its row in the table */}
      <svg
        width={LEFT + PIXELS + 4}
        height={TOP + PIXELS + 20}
        role="img"
        aria-label={`The take against itself: ${found.cycles.length} loops found`}
        onClick={press}
      >
        <rect className="map-edge" x={LEFT} y={TOP} width={PIXELS} height={PIXELS} />
        <text
          className="map-word"
          textAnchor="middle"
          transform={`translate(11 ${TOP + PIXELS / 2}) rotate(-90)`}
        >
          loop ends
        </text>
        <text className="map-word" x={4} y={TOP + PIXELS + 15} textAnchor="start">
          starts
        </text>
        {numbers.map((frame) => (
          <g key={frame}>
            <text
              className="map-number"
              textAnchor="middle"
              x={LEFT + place(frame)}
              y={TOP + PIXELS + 15}
            >
              {Math.round(at[frame] ?? frame)}
            </text>
            <text className="map-number" x={LEFT - 4} y={TOP + place(frame) + 4} textAnchor="end">
              {Math.round(at[frame] ?? frame)}
            </text>
          </g>
        ))}
        {loop && (
          <path
            className="loop-bracket"
            d={`M${LEFT + place(loop.start)} ${TOP + place(loop.start)}V${TOP + place(loop.end)}H${LEFT + place(loop.end)}`}
          />
        )}
        {ringed.map((one, k) => {
          const chosen = loop?.start === one.start && loop.end === one.end;
          return (
            <g
              key={`${one.start} ${one.end}`}
              className={`loop-ring ${chosen ? 'is-chosen' : ''}`}
              transform={`translate(${LEFT + place(one.start)} ${TOP + place(one.end)})`}
            >
              <circle className="halo" r="6" />
              <circle r="6" />
              <text x={-9} y={14}>
                {k + 1}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

const STEPS = 24;
const INKS = Array.from({ length: STEPS }, (_, step) =>
  channels(mix(GOOD, SHEET, 1 - (step / (STEPS - 1)) ** 1.6)),
);

function imageOf(found: Cycles): ImageData {
  const side = found.cells_a_side;
  const image = new ImageData(side, side);
  const bytes = Uint8Array.from(atob(found.cells), (letter) => letter.charCodeAt(0));
  bytes.forEach((near, place) => {
    const [red, green, blue] = INKS[Math.floor((near / 256) * STEPS)];
    image.data.set([red, green, blue, 255], place * 4);
  });
  return image;
}

function channels(colour: string): [number, number, number] {
  const at = (place: number) => Number.parseInt(colour.slice(place, place + 2), 16);
  return [at(1), at(3), at(5)];
}
