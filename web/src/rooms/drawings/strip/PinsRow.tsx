import { type PointerEvent, useState } from 'react';
import { NumberBox } from '../../../app/controls';
import { LABEL_WIDTH, type Scale, xOf } from '../../../desk/scale';
import { useFrame } from '../../../player/useFrame';
import { type DrawingsRoomParts, FIRST_FRAME } from '../room';
import { shownAt } from '../shown';

interface RowProps {
  readonly room: DrawingsRoomParts;
  readonly scale: Scale;
}

/** Where drawings are pinned to frames: typed as a pair, or drawn along. */
export function PinsRow({ room, scale }: RowProps) {
  const { sheet, run, onEdit, onPreview } = room;
  const pins = sheet.run.pins ?? [];
  const drag = (event: PointerEvent<HTMLButtonElement>, pin: (typeof pins)[number]) => {
    if (!run.may_change || event.button !== 0) return;
    const from = event.clientX;
    const button = event.currentTarget;
    button.setPointerCapture(event.pointerId);
    const edit = (x: number) => {
      const frame = Math.max(0, pin.frame + Math.round((x - from) / scale.pixelsPerFrame));
      return { kind: 'pin_drawing', drawing: pin.drawing, frame, instead: pin.frame } as const;
    };
    button.onpointermove = (moved) => onPreview(edit(moved.clientX));
    button.onpointerup = (up) => {
      button.onpointermove = null;
      button.onpointerup = null;
      onPreview(null);
      if (edit(up.clientX).frame !== pin.frame) onEdit(edit(up.clientX));
    };
  };
  return (
    <div className="run-row run-pins">
      <span className="row-name">Pins</span>
      {pins.map((pin, place) => {
        const x = xOf(scale, pin.frame);
        if (x < LABEL_WIDTH - 4 || x > scale.width) return null;
        return (
          <button
            // biome-ignore lint/suspicious/noArrayIndexKey: what is drawn along stays the one under the hand
            key={place}
            type="button"
            className="pin-head"
            style={{ left: x }}
            title={`Drawing ${pin.drawing} begins on frame ${pin.frame + FIRST_FRAME}. Draw it along; Shift P there takes it away.`}
            aria-label={`Pin: drawing ${pin.drawing} at frame ${pin.frame + FIRST_FRAME}`}
            onPointerDown={(event) => drag(event, pin)}
            onClick={() => room.goTo(pin.frame)}
          >
            <i aria-hidden="true" />
            <span>
              {pin.drawing} at {pin.frame + FIRST_FRAME}
            </span>
          </button>
        );
      })}
      {run.may_change && <PinPair room={room} />}
    </div>
  );
}

/** “Drawing 7 at frame 30”, typed. */
function PinPair({ room }: { readonly room: DrawingsRoomParts }) {
  const { player, sheet, onEdit } = room;
  const frame = useFrame(player);
  const [typed, setTyped] = useState<{ drawing?: number; frame?: number }>({});
  const drawing = typed.drawing ?? shownAt(sheet.shown, frame)?.drawing ?? 1;
  const at = typed.frame ?? frame + FIRST_FRAME;
  return (
    <span className="pair pin-pair">
      <span className="quiet">drawing</span>
      <NumberBox
        label="Drawing to pin"
        value={drawing}
        smallest={0}
        largest={999_999_999}
        onCommit={(wanted) => setTyped({ ...typed, drawing: wanted })}
      />
      <span className="quiet">at frame</span>
      <NumberBox
        label="Frame to pin it to"
        value={at}
        smallest={FIRST_FRAME}
        largest={200_000}
        onCommit={(wanted) => setTyped({ ...typed, frame: wanted })}
      />
      <button
        type="button"
        className="btn btn-paper"
        onClick={() => {
          onEdit({ kind: 'pin_drawing', drawing, frame: at - FIRST_FRAME, instead: null });
          setTyped({});
        }}
      >
        Pin it
      </button>
    </span>
  );
}
