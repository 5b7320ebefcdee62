import { type PointerEvent, useRef } from 'react';
import { LABEL_WIDTH, type Scale, xOf } from '../../../desk/scale';
import { useFrame } from '../../../player/useFrame';
import { type DrawingsRoomParts, FIRST_FRAME } from '../room';
import { shownAt } from '../shown';

interface RowProps {
  readonly room: DrawingsRoomParts;
  readonly scale: Scale;
}

const LEAST_NUMBER = 9;
const LEAST_DRAG = 3;

/** What plays, by the numbers of its drawings; drawn along, a drawing is pinned to where it is let go. */
export function PlayedRow({ room, scale }: RowProps) {
  const { sheet, player, goTo, run, onPreview, onEdit } = room;
  const frame = useFrame(player);
  const here = shownAt(sheet.shown, frame);
  const wasDragged = useRef(false);
  const pinned = new Set(sheet.run.pins?.map((pin) => pin.frame));
  const lacking = new Set(sheet.lacking);
  const drag = (event: PointerEvent<HTMLButtonElement>, one: (typeof sheet.shown)[number]) => {
    wasDragged.current = false;
    if (!run.may_change || event.button !== 0) return;
    const from = event.clientX;
    const button = event.currentTarget;
    button.setPointerCapture(event.pointerId);
    const edit = (x: number) => {
      const to = Math.max(0, one.frame + Math.round((x - from) / scale.pixelsPerFrame));
      const instead = pinned.has(one.frame) ? one.frame : null;
      return { kind: 'pin_drawing', drawing: one.drawing, frame: to, instead } as const;
    };
    button.onpointermove = (moved) => {
      if (Math.abs(moved.clientX - from) < LEAST_DRAG && !wasDragged.current) return;
      wasDragged.current = true;
      onPreview(edit(moved.clientX));
    };
    button.onpointerup = (up) => {
      button.onpointermove = null;
      button.onpointerup = null;
      if (!wasDragged.current) return;
      onPreview(null);
      if (edit(up.clientX).frame !== one.frame) onEdit(edit(up.clientX));
    };
  };
  return (
    <div className="run-row run-played">
      <span className="row-name">Played</span>
      {sheet.rounds.map((start) => {
        const x = xOf(scale, start);
        if (x < LABEL_WIDTH || x > scale.width) return null;
        return <i key={start} className="seam-stitches" style={{ left: x }} aria-hidden="true" />;
      })}
      {sheet.shown.map((one, place) => {
        const left = xOf(scale, one.frame);
        const wide = one.length * scale.pixelsPerFrame;
        if (left + wide <= LABEL_WIDTH || left >= scale.width) return null;
        const start = Math.max(left, LABEL_WIDTH);
        const marks = `${one === here ? 'is-here' : ''} ${lacking.has(one.drawing) ? 'is-lacking' : ''}`;
        return (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: what is drawn along stays the one under the hand
            key={place}
            type="button"
            tabIndex={-1}
            className={`exposure number ${marks}`}
            style={{ left: start + 0.5, width: Math.max(2, left + wide - start - 1) }}
            title={`Drawing ${one.drawing}, ${one.frame + FIRST_FRAME} to ${one.frame + one.length - 1 + FIRST_FRAME}: draw it along to pin it`}
            aria-label={`Drawing ${one.drawing} from ${one.frame + FIRST_FRAME}`}
            onPointerDown={(event) => drag(event, one)}
            onClick={() => {
              if (!wasDragged.current) goTo(one.frame);
            }}
          >
            {wide >= LEAST_NUMBER * String(one.drawing).length && <b>{one.drawing}</b>}
            {wide >= 40 && <i className="hold-line" aria-hidden="true" />}
            {wide >= 54 && <small>{one.length}</small>}
          </button>
        );
      })}
    </div>
  );
}
