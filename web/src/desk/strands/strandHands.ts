/** What is done with strands by hand and by keys: pins, levels and ramps. */

import type { Schemas } from '../../api/client';
import { type Drawn, drawing } from '../drawn';
import type { Selection } from '../selection';
import type { ElasticOf, StrandActions } from './actions';
import type { Strands } from './picture';

type Edit = Schemas['EditWanted']['edit'];

interface Latest extends Drawn {
  readonly onSelect: (selection: Selection | null) => void;
}

const NOTHING_MOVES: ReadonlySet<string> = new Set();
/** Levels are caught by these, in percent. */
const CAUGHT = 5;

/** Made once: it reads what is on the desk when it is needed. */
export function strandHands(now: () => Latest): StrandActions {
  const { shiftOf, drawEdit } = drawing(now);
  const ripple = () => now().options.ripple;

  /** Source frames for pixels: whole ones, or with Alt as drawn. */
  const sourceShift = (
    dx: number,
    { altKey }: { altKey: boolean },
    strands: Strands,
    from: number,
  ) => {
    const to = from + (dx / now().scale.pixelsPerFrame) * strands.unit;
    return altKey ? to : Math.round(to);
  };
  const level = (of: ElasticOf, pin: number, pace: number): Edit => ({
    kind: 'set_pace',
    stint: of,
    pin,
    pace: Math.round(pace * 1000) / 1000,
    ripple: ripple(),
  });
  const choosePin = (of: ElasticOf, pin: number) => now().onSelect({ kind: 'pin', stint: of, pin });

  return {
    choosePin,
    grabPin: (event, of, strands, pin, end) => {
      const { played, source } = strands.pins[pin];
      drawEdit(event, (dx, _dy, moved) => {
        if (end === 'source') {
          const to = sourceShift(dx, moved, strands, source);
          return to === source
            ? null
            : { kind: 'set_pin', stint: of, pin, source: to, ripple: false };
        }
        const frames = shiftOf(dx, moved, [played], NOTHING_MOVES);
        return frames
          ? { kind: 'set_pin', stint: of, pin, played: played + frames, ripple: ripple() }
          : null;
      });
    },
    nudgePin: (of, strands, pin, frames) =>
      now().onEdit({
        kind: 'set_pin',
        stint: of,
        pin,
        played: strands.pins[pin].played + frames,
        ripple: ripple(),
      }),
    removePin: (of, pin) => now().onEdit({ kind: 'remove_pin', stint: of, pin }),
    grabThread: (event, of, strands, thread, end) => {
      drawEdit(
        event,
        (dx, _dy, moved) => {
          if (end === 'source') {
            const source = sourceShift(dx, moved, strands, thread.source);
            return source === thread.source
              ? null
              : { kind: 'pin_source', stint: of, source, played: thread.played, ripple: false };
          }
          const frames = shiftOf(dx, moved, [thread.played], NOTHING_MOVES);
          const played = Math.round(thread.played + frames);
          return frames
            ? { kind: 'pin_source', stint: of, source: thread.source, played, ripple: ripple() }
            : null;
        },
        () => now().onEdit({ kind: 'add_pin', stint: of, played: thread.played }),
      );
    },
    grabLevel: (event, of, strands, pin, pixelsPerPace) => {
      const from = strands.pins[pin].pace_after;
      drawEdit(
        event,
        (_dx, dy, moved) => {
          const drawn = 100 * (from - dy / pixelsPerPace);
          const percent = moved.altKey ? Math.round(drawn) : CAUGHT * Math.round(drawn / CAUGHT);
          const least = Math.sign(from || 1);
          const pace = from < 0 ? Math.min(least, percent) : Math.max(least, percent);
          return level(of, pin, pace / 100);
        },
        () => choosePin(of, pin),
      );
    },
    grabCorner: (event, of, strands, pin) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      choosePin(of, pin);
      const { played } = strands.pins[pin];
      const isEnd = strands.pins[pin - 1]?.span === 'ramped';
      const other = isEnd ? strands.pins[pin - 1].played : strands.pins[pin + 1].played;
      drawEdit(event, (dx, _dy, moved) => {
        const shift = shiftOf(dx, moved, [played], NOTHING_MOVES);
        const frames = Math.max(1, isEnd ? played + shift - other : other - played - shift);
        return { kind: 'set_ramp', stint: of, pin, frames, ripple: ripple() };
      });
    },
    nudgeLevel: (of, pin, pace) => now().onEdit(level(of, pin, pace)),
    straighten: (of) => now().onEdit({ kind: 'straighten', stint: of, ripple: ripple() }),
    goToPlayed: (of, played) => {
      const { head } = now();
      head.pause();
      if (of === null) head.goToPlayed(played);
      else head.goTo(played);
    },
  };
}
