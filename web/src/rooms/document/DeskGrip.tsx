import type { PointerEvent } from 'react';

const LEAST_DESK = 150;
const LEAST_STAGE = 180;

interface DeskGripProps {
  readonly onHeight: (pixels: number) => void;
}

/** The upper edge of the desk: drawn up, the desk is taller and the stage lower. */
export function DeskGrip({ onHeight }: DeskGripProps) {
  const grow = (event: PointerEvent<HTMLDivElement>) => {
    const place = event.currentTarget.parentElement;
    const room = place?.parentElement;
    if (!place || !room) return;
    const from = event.clientY;
    const height = place.clientHeight;
    const most = room.clientHeight - LEAST_STAGE;
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.onpointermove = (moved) =>
      onHeight(Math.max(LEAST_DESK, Math.min(most, height + from - moved.clientY)));
    event.currentTarget.onpointerup = (up) => {
      (up.currentTarget as HTMLDivElement).onpointermove = null;
    };
  };
  return <div className="desk-grip" onPointerDown={grow} aria-hidden="true" />;
}

/** The room's style for a desk of this height. */
export const deskHeight = (pixels: number | null) =>
  pixels ? ({ '--desk-height': `${pixels}px` } as React.CSSProperties) : undefined;
