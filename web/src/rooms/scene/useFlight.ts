import { type PointerEvent, useState } from 'react';
import { type Draw, startDraw } from '../../app/drawing';

export interface Flight<T> {
  readonly onDrag: (what: T, clientX: number, clientY: number) => void;
  readonly onDrop: (what: T, clientX: number, clientY: number) => void;
  readonly onCancel: () => void;
}

/** Something of the drawer on its way to the desk: what flies, and where it is seen. */
export function useFlight<T>({ onDrag, onDrop, onCancel }: Flight<T>) {
  const [flying, setFlying] = useState<{ what: T; x: number; y: number } | null>(null);
  const grab = (event: PointerEvent, what: T) => {
    if (event.button !== 0) return;
    const draw: Draw = {
      onMove: (_dx, _dy, { clientX, clientY }) => {
        setFlying({ what, x: clientX, y: clientY });
        onDrag(what, clientX, clientY);
      },
      onDrop: (_dx, _dy, { clientX, clientY }) => {
        setFlying(null);
        onDrop(what, clientX, clientY);
      },
      onCancel: () => {
        setFlying(null);
        onCancel();
      },
    };
    startDraw(event.clientX, event.clientY, draw);
  };
  return { flying, grab };
}
