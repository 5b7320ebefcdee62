import type { PointerEvent } from 'react';

const LEAST_DESK = 150;
const LEAST_STAGE = 180;

/** A height that leaves room for the desk and for the stage in the room. */
export function heightWithin(pixels: number, room: number): number {
  return Math.max(LEAST_DESK, Math.min(room - LEAST_STAGE, pixels));
}

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
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.onpointermove = (moved) =>
      onHeight(heightWithin(height + from - moved.clientY, room.clientHeight));
    event.currentTarget.onpointerup = (up) => {
      (up.currentTarget as HTMLDivElement).onpointermove = null;
    };
  };
  return <div className="desk-grip" onPointerDown={grow} aria-hidden="true" />;
}

/** The room's style for a desk of this height. */
export const deskHeight = (pixels: number | null) =>
  pixels ? ({ '--desk-height': `${pixels}px` } as React.CSSProperties) : undefined;
