import { type PointerEvent, useMemo, useRef, useState } from 'react';
import type { RunEdit } from '../../../api/drawings';
import { LABEL_WIDTH, type Scale, xOf } from '../../../desk/scale';
import { useFrame } from '../../../player/useFrame';
import type { DrawingsRoomParts } from '../room';
import { SmallDrawing } from '../SmallDrawing';
import { orderStarts, shownAt } from '../shown';

interface RowProps {
  readonly room: DrawingsRoomParts;
  readonly scale: Scale;
}

const LEAST_PICTURE = 26;
const LEAST_DRAG = 4;

/** The order, drawing by drawing as sheets: drawn by their ends they are held, by their middles moved. */
export function OrderRow({ room, scale }: RowProps) {
  const { sheet, player, run, onEdit, onPreview } = room;
  const frame = useFrame(player);
  const { held } = sheet.run;
  const starts = useMemo(() => orderStarts(held), [held]);
  const here = shownAt(sheet.shown, frame)?.place ?? null;
  const [moving, setMoving] = useState<{ place: number; pixels: number } | null>(null);
  const wasDragged = useRef(false);
  const dragged = (
    event: PointerEvent<HTMLElement>,
    onMove: (frames: number, pixels: number) => void,
    onEnd: (frames: number) => void,
  ) => {
    event.stopPropagation();
    wasDragged.current = false;
    if (!run.may_change || event.button !== 0) return;
    const from = event.clientX;
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    const framesTo = (x: number) => Math.round((x - from) / scale.pixelsPerFrame);
    element.onpointermove = (to) => {
      if (Math.abs(to.clientX - from) < LEAST_DRAG && !wasDragged.current) return;
      wasDragged.current = true;
      onMove(framesTo(to.clientX), to.clientX - from);
    };
    element.onpointerup = (to) => {
      element.onpointermove = null;
      element.onpointerup = null;
      if (wasDragged.current) onEnd(framesTo(to.clientX));
    };
  };
  const hold = (place: number, frames: number): RunEdit => ({
    kind: 'hold_drawing',
    place,
    frames: Math.max(1, (held[place].frames ?? 2) + frames),
  });
  const goal = (place: number, frames: number): number => {
    const at = starts[place] + frames;
    const others = starts.filter((_, other) => other !== place);
    return others.filter((start) => start < at).length;
  };
  return (
    <div className="run-row run-order">
      <span className="row-name">
        Order
        <small className="number">{sheet.order_frames} fr</small>
      </span>
      {held.map(({ drawing, frames = 2 }, place) => {
        const left = xOf(scale, starts[place]);
        const wide = frames * scale.pixelsPerFrame;
        if (left + wide <= LABEL_WIDTH || left >= scale.width) return null;
        const start = Math.max(left, LABEL_WIDTH);
        const shift = moving?.place === place ? moving.pixels : 0;
        return (
          <div
            // biome-ignore lint/suspicious/noArrayIndexKey: an exposure is its place in the order
            key={place}
            className={`order-sheet ${place === here ? 'is-here' : ''} ${shift ? 'is-moving' : ''}`}
            style={{
              left: start + 0.5,
              width: Math.max(3, left + wide - start - 1),
              transform: shift ? `translateX(${shift}px)` : undefined,
            }}
          >
            <button
              type="button"
              tabIndex={-1}
              title={`Drawing ${drawing}, held ${frames}: draw it to another place`}
              aria-label={`Drawing ${drawing}, ${place + 1} in the order, held ${frames}`}
              onPointerDown={(event) =>
                dragged(
                  event,
                  (_, pixels) => setMoving({ place, pixels }),
                  (moved) => {
                    setMoving(null);
                    const to = goal(place, moved);
                    if (to !== place) onEdit({ kind: 'move_drawings', place, count: 1, to });
                  },
                )
              }
              onClick={() => {
                if (!wasDragged.current) room.goTo(starts[place] % Math.max(1, sheet.frames));
              }}
            >
              {wide >= 10 && <b className="number">{drawing}</b>}
              {wide >= LEAST_PICTURE && <SmallDrawing room={room} number={drawing} />}
              {wide >= LEAST_PICTURE && <small className="number">{frames}</small>}
            </button>
            {run.may_change && (
              <i
                className="order-end"
                title="Draw it to hold the drawing longer or shorter"
                onPointerDown={(event) =>
                  dragged(
                    event,
                    (moved) => onPreview(hold(place, moved)),
                    (moved) => {
                      onPreview(null);
                      if (moved) onEdit(hold(place, moved));
                    },
                  )
                }
              />
            )}
          </div>
        );
      })}
    </div>
  );
}
