/** The strands of a take by hand and by keys: which source frame plays when. */

import type { PointerEvent } from 'react';
import type { TakeEdit } from '../../api/takes';
import { startDraw } from '../../app/drawing';
import type { Scale } from '../../desk/scale';
import type { StrandActions } from '../../desk/strands/actions';
import type { TakesRoomParts } from './room';

/** A drawn pace is caught by the next five per cent; with Alt it is not. */
const CAUGHT = 5;

const level = (place: number, pace: number): TakeEdit => ({
  kind: 'set_source_level',
  place,
  pace,
});

interface Latest {
  readonly room: TakesRoomParts;
  readonly scale: Scale;
}

export function sourceHands(now: () => Latest): StrandActions {
  const from = () => now().room.cleaned?.played_from ?? 0;
  const draw = (
    event: PointerEvent,
    editAt: (dx: number, dy: number, moved: globalThis.PointerEvent) => TakeEdit | null,
    onPress: () => void = () => {},
  ) => {
    let last: TakeEdit | null = null;
    startDraw(event.clientX, event.clientY, {
      onMove: (dx, dy, moved) => {
        last = editAt(dx, dy, moved);
        now().room.onPreview(last);
      },
      onDrop: () => (last ? now().room.onEdit(last) : now().room.onPreview(null)),
      onPress,
      onCancel: () => now().room.onPreview(null),
    });
  };
  const frames = (dx: number) => Math.round(dx / now().scale.pixelsPerFrame);
  return {
    choosePin: () => {},
    grabPin: (event, _of, strands, pin, end) => {
      const { played, source } = strands.pins[pin];
      draw(event, (dx) => {
        const by = frames(dx);
        if (!by) return null;
        if (end === 'played')
          return {
            kind: 'move_source_pin',
            place: pin,
            played: played + by + from(),
            ripple: true,
          };
        const to = Math.round(source + by * strands.unit);
        return { kind: 'move_source_pin', place: pin, source: to, ripple: false };
      });
    },
    nudgePin: (_of, strands, pin, by) =>
      now().room.onEdit({
        kind: 'move_source_pin',
        place: pin,
        played: strands.pins[pin].played + by + from(),
        ripple: true,
      }),
    removePin: (_of, pin) => now().room.onEdit({ kind: 'drop_source_pin', place: pin }),
    grabThread: (event, _of, strands, thread, end) => {
      const source = Math.round(thread.source);
      const played = Math.round(thread.played);
      const pinned = (at: number, frame: number): TakeEdit => ({
        kind: 'pin_source',
        source: at,
        played: frame + from(),
        ripple: end === 'played',
      });
      draw(
        event,
        (dx) => {
          const by = frames(dx);
          if (!by) return null;
          if (end === 'played') return pinned(source, played + by);
          return pinned(Math.round(source + by * strands.unit), played);
        },
        () => now().room.onEdit(pinned(source, played)),
      );
    },
    grabLevel: (event, _of, strands, pin, pixelsPerPace) => {
      const pace = strands.pins[pin].pace_after;
      draw(event, (_dx, dy, moved) => {
        const drawn = 100 * (pace - dy / pixelsPerPace);
        const percent = moved.altKey ? Math.round(drawn) : CAUGHT * Math.round(drawn / CAUGHT);
        const least = Math.sign(pace || 1);
        return level(pin, (pace < 0 ? Math.min(least, percent) : Math.max(least, percent)) / 100);
      });
    },
    grabCorner: (event, _of, strands, pin) => {
      const { played } = strands.pins[pin];
      const isEnd = strands.pins[pin - 1]?.span === 'ramped';
      const other = isEnd ? strands.pins[pin - 1].played : strands.pins[pin + 1].played;
      draw(event, (dx) => {
        const by = frames(dx);
        const length = Math.max(1, isEnd ? played + by - other : other - played - by);
        return { kind: 'set_source_ramp', place: pin, frames: length };
      });
    },
    nudgeLevel: (_of, pin, pace) => now().room.onEdit(level(pin, pace)),
    straighten: () => {
      if (now().room.take.take.by_hand.elastic) now().room.onEdit({ kind: 'forget_elastic' });
    },
    goToPlayed: (_of, played) => {
      now().room.player.pause();
      now().room.player.goTo(played);
    },
  };
}
