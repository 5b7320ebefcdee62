/** Things drawn along the desk: caught by what lies near, shown while they are drawn, made when let go. */

import type { PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { type Draw, startDraw } from '../app/drawing';
import type { LaidHead } from '../player/laidHead';
import type { Scale } from './scale';
import { catches, snapped } from './snapping';
import type { DeskOptions } from './Transport';

type Edit = Schemas['EditWanted']['edit'];

/** What of the desk a hand needs to know, as it is now. */
export interface Drawn {
  readonly desk: Schemas['Desk'];
  readonly scale: Scale;
  readonly head: LaidHead;
  readonly options: DeskOptions;
  readonly onPreview: (edit: Edit | null) => void;
  readonly onEdit: (edit: Edit) => void;
}

export function drawing(now: () => Drawn) {
  return {
    /** Frames for pixels, caught by what lies near; Alt lets go of all but whole frames. */
    shiftOf: (
      dx: number,
      event: { altKey: boolean },
      edges: readonly number[],
      moving: ReadonlySet<string>,
      /** As it stands on the lane that is drawn along. */
      head: LaidHead = now().head,
    ): number => {
      const { scale, desk, options } = now();
      const frames = dx / scale.pixelsPerFrame;
      if (!options.snap || event.altKey) return Math.round(frames);
      return snapped(frames, edges, catches(desk, head.frame, moving), scale.pixelsPerFrame);
    },
    /** Draw something: each new edit is shown, the last one is made. */
    drawEdit: (
      event: PointerEvent,
      edit: (dx: number, dy: number, moved: globalThis.PointerEvent) => Edit | null,
      onPress?: () => void,
    ): void => {
      let shown = '';
      let last: Edit | null = null;
      const draw: Draw = {
        onMove: (dx, dy, moved) => {
          last = edit(dx, dy, moved);
          const written = JSON.stringify(last);
          if (written === shown) return;
          shown = written;
          now().onPreview(last);
        },
        onDrop: () => (last ? now().onEdit(last) : now().onPreview(null)),
        onCancel: () => now().onPreview(null),
        ...(onPress ? { onPress } : {}),
      };
      startDraw(event.clientX, event.clientY, draw);
    },
  };
}
