/** A press that may become a draw: what is held follows the pointer until it is let go or Escape. */

const THRESHOLD_PIXELS = 3;

export interface Draw {
  /** Pixels from where it was pressed, and the event for anything else. */
  readonly onMove: (dx: number, dy: number, event: PointerEvent) => void;
  /** Let go after a draw. */
  readonly onDrop: (dx: number, dy: number, event: PointerEvent) => void;
  /** Let go without having moved. */
  readonly onPress?: () => void;
  readonly onCancel: () => void;
}

export function startDraw(clientX: number, clientY: number, draw: Draw): void {
  let drawn = false;
  const move = (event: PointerEvent) => {
    const dx = event.clientX - clientX;
    const dy = event.clientY - clientY;
    drawn ||= Math.hypot(dx, dy) >= THRESHOLD_PIXELS;
    if (drawn) draw.onMove(dx, dy, event);
  };
  const finish = () => {
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', drop);
    window.removeEventListener('pointercancel', cancel);
    window.removeEventListener('keydown', cancelByKey, true);
  };
  const drop = (event: PointerEvent) => {
    finish();
    if (drawn) draw.onDrop(event.clientX - clientX, event.clientY - clientY, event);
    else draw.onPress?.();
  };
  const cancel = () => {
    finish();
    draw.onCancel();
  };
  const cancelByKey = (event: KeyboardEvent) => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    cancel();
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', drop);
  window.addEventListener('pointercancel', cancel);
  window.addEventListener('keydown', cancelByKey, true);
}
