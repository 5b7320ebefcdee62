import { type KeyboardEvent, type MouseEvent, useEffect, useRef, useState } from 'react';
import type { JoinMap, JoinPlace } from '../../../api/joins';
import { cellOf, heatImage, pairAt, plantedIn, standing } from './heat';

interface JoinMapPictureProps {
  readonly map: JoinMap;
  readonly outgoing: string;
  readonly incoming: string;
  readonly firstFrame: number;
  readonly disabled: boolean;
  /** The pair that is looked at; null when it is left. */
  readonly onLook: (place: JoinPlace | null) => void;
  readonly onChoose: (place: JoinPlace) => void;
}

const MARGIN = 20;
/** With the margin, within the narrow card of a small window. */
const MOST_PIXELS = { width: 188, height: 144 };
const MOST_CELL = { wide: 16, tall: 9 };
const RINGS = 5;

/**
 * Where to join, as a map: each cell is a pair of frames, dark where both poses are alike. Feet on the
 * ground run along its edges, left solid and right hatched, so that steps are lined up by eye.
 */
export function JoinMapPicture(props: JoinMapPictureProps) {
  const { map, outgoing, incoming, firstFrame, disabled, onLook, onChoose } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [cursor, setCursor] = useState<{ row: number; column: number } | null>(null);
  const columns = map.inFrames.length;
  const rows = map.outFrames.length;
  const cell = {
    wide: Math.min(MOST_PIXELS.width / columns, MOST_CELL.wide),
    tall: Math.min(MOST_PIXELS.height / rows, MOST_CELL.tall),
  };
  const width = columns * cell.wide;
  const height = rows * cell.tall;
  const now = cellOf(map, map.now);

  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (context) context.putImageData(heatImage(map), 0, 0);
  }, [map]);

  const placeOf = ({ row, column }: { row: number; column: number }): JoinPlace => ({
    at: map.outFrames[row],
    in_frame: map.inFrames[column],
    score_cm: map.score[row * columns + column],
    planted: plantedIn(map, row, column),
  });
  const look = (place: { row: number; column: number } | null) => {
    setCursor(place);
    onLook(place && placeOf(place));
  };
  const under = (event: MouseEvent<HTMLDivElement>) => {
    const area = event.currentTarget.getBoundingClientRect();
    return pairAt(
      map,
      (event.clientX - area.left) / area.width,
      (event.clientY - area.top) / area.height,
    );
  };
  const walk = (event: KeyboardEvent) => {
    const here = cursor ?? now ?? { row: 0, column: 0 };
    const step = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    }[event.key];
    if (event.key === 'Enter' && cursor && !disabled) onChoose(placeOf(cursor));
    else if (event.key === 'Escape') look(null);
    else if (!step) return;
    else
      look({
        row: within(here.row + step[0], rows),
        column: within(here.column + step[1], columns),
      });
    event.preventDefault();
    event.stopPropagation();
  };
  const told = cursor && placeOf(cursor);
  const said = told
    ? `${outgoing} ${told.at + firstFrame}, ${incoming} ${frameText(told.in_frame)}: ${told.score_cm.toFixed(1)} cm apart`
    : 'Nothing looked at';

  return (
    <figure className="join-map">
      <svg width={width + MARGIN} height={MARGIN} aria-hidden="true">
        <FootBars feet={map.inFeet} cell={cell.wide} offset={MARGIN} isAcross />
      </svg>
      <div className="join-map-row">
        <svg width={MARGIN} height={height} aria-hidden="true">
          <FootBars feet={map.outFeet} cell={cell.tall} offset={0} isAcross={false} />
        </svg>
        <div
          className="join-map-cells"
          style={{ width, height }}
          role="slider"
          tabIndex={0}
          aria-label={`Where to join ${outgoing} and ${incoming}: arrows walk over the map, Enter joins there`}
          aria-valuenow={told ? told.at + firstFrame : (map.now.at ?? 0) + firstFrame}
          aria-valuetext={said}
          onKeyDown={walk}
          onPointerMove={(event) => look(under(event))}
          onPointerLeave={() => look(null)}
          onClick={(event) => !disabled && onChoose(placeOf(under(event)))}
        >
          <canvas ref={canvas} width={columns} height={rows} style={{ width, height }} />
          <svg width={width} height={height} aria-hidden="true">
            {map.best.slice(0, RINGS).map((place, rank) => {
              const at = cellOf(map, place);
              return (
                at && (
                  <Ring
                    key={`${place.at} ${place.in_frame}`}
                    x={(at.column + 0.5) * cell.wide}
                    y={(at.row + 0.5) * cell.tall}
                    rank={rank + 1}
                  />
                )
              );
            })}
            {now && (
              <rect
                className="is-now"
                x={now.column * cell.wide - 2}
                y={now.row * cell.tall - 2}
                width={cell.wide + 4}
                height={cell.tall + 4}
              />
            )}
            {cursor && (
              <path
                className="cross-hair"
                d={`M0 ${(cursor.row + 0.5) * cell.tall}H${width}M${(cursor.column + 0.5) * cell.wide} 0V${height}`}
              />
            )}
          </svg>
        </div>
      </div>
      <figcaption className="quiet number">
        {told ? (
          <>
            {told.at + firstFrame} ↓ {frameText(told.in_frame)} → {told.score_cm.toFixed(1)} cm
          </>
        ) : (
          `↓ ${map.outFrames[0] + firstFrame}–${map.outFrames[rows - 1] + firstFrame}   → ${frameText(map.inFrames[0])}–${frameText(map.inFrames[columns - 1])}`
        )}
      </figcaption>
    </figure>
  );
}

function Ring({ x, y, rank }: { x: number; y: number; rank: number }) {
  return (
    <g className="ring">
      <circle cx={x} cy={y} r={rank === 1 ? 7 : 5.5} />
      <text x={x + 8} y={y - 5}>
        {rank}
      </text>
    </g>
  );
}

interface FootBarsProps {
  readonly feet: Uint8Array;
  readonly cell: number;
  readonly offset: number;
  readonly isAcross: boolean;
}

function FootBars({ feet, cell, offset, isAcross }: FootBarsProps) {
  const bars = (side: 0 | 1) =>
    standing(feet, side).map(([start, end]) => {
      const along = offset + start * cell;
      const long = Math.max(1, (end - start) * cell - 1);
      const beside = side === 0 ? 4 : 12;
      return isAcross
        ? `M${along} ${beside}h${long}v5h${-long}z`
        : `M${beside} ${along}v${long}h5v${-long}z`;
    });
  return (
    <>
      <path d={bars(0).join('')} fill="var(--before)" />
      <path d={bars(1).join('')} fill="url(#hatch-right)" stroke="var(--after)" strokeWidth="0.9" />
    </>
  );
}

const within = (place: number, count: number) => Math.max(0, Math.min(count - 1, place));

export const frameText = (frame: number): string => String(Math.round(frame * 10) / 10);
