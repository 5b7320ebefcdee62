import { useRef } from 'react';
import { useNotices } from '../../app/notices';
import { useShortcuts } from '../../app/shortcuts';
import { scaleOf, windowOf, xOf, zoomed } from '../../desk/scale';
import { DIGITS, DRAWINGS_KEYS, type DrawingsAction } from './drawingsKeys';
import type { DrawingsRoomParts } from './room';
import { placeAt, shownAt } from './shown';
import type { RunState } from './useRun';

interface Options {
  readonly room: DrawingsRoomParts;
  readonly state: RunState;
  readonly onHistory: () => void;
  readonly onKeys: () => void;
}

export interface DrawingsHands {
  /** To the drawing before, or the next one. */
  readonly flip: (way: 1 | -1) => void;
  readonly drawAnew: () => void;
}

const ZOOM = 1.5;
/** Zooming by keys goes by any width: only what shows in it matters. */
const SOME_WIDTH = 900;
/** A digit that follows so soon belongs to the number before it. */
const TOGETHER_MS = 700;
const MOST_SEED = 999_999;

/** What can be done in the drawings room, by keys and by its buttons. */
export function useDrawingsActions({ room, state, onHistory, onKeys }: Options): DrawingsHands {
  const { run, sheet, player, memory, change, onEdit, goTo, looked, onLook } = room;
  const notices = useNotices();
  const typed = useRef({ digits: '', at: 0, frame: -1 });
  const flip = (way: 1 | -1) => {
    const here = placeAt(sheet.shown, player.frame);
    const there = sheet.shown[here + way] ?? sheet.shown[way > 0 ? 0 : sheet.shown.length - 1];
    if (there) goTo(there.frame);
  };
  const drawAnew = () => {
    const seed = 1 + Math.floor(Math.random() * MOST_SEED);
    onEdit({ kind: 'seed_run', seed });
  };
  const exposed = () => shownAt(sheet.shown, player.frame);
  /** What holds the exposure that shows, where the order tells which it is. */
  const held = (by: number) => {
    const place = exposed()?.place;
    if (place === null || place === undefined) {
      notices.say('What shows here is no exposure of the order by itself: draw it in the order.');
      return;
    }
    const frames = (sheet.run.held[place].frames ?? 2) + by;
    if (frames >= 1) onEdit({ kind: 'hold_drawing', place, frames });
  };
  const write = (digit: number) => {
    const now = performance.now();
    const { digits, at, frame } = typed.current;
    const goesOn = now - at < TOGETHER_MS && frame === player.frame;
    const text = `${goesOn ? digits : ''}${digit}`;
    typed.current = { digits: text, at: now, frame: player.frame };
    const drawing = Number(text);
    if (room.drawings.has(drawing)) onEdit({ kind: 'write_drawing', frame: player.frame, drawing });
    else notices.say(`The set has no drawing ${drawing}.`);
  };
  const nudge = (x: number, y: number) => {
    const number = looked ?? exposed()?.drawing;
    const drawing = number === undefined ? undefined : room.drawings.get(number);
    if (!drawing) return;
    room.onNudge(drawing.number, drawing.shift_pixels ?? [0, 0], x, y);
  };
  const zoom = (factor: number) => {
    const scale = scaleOf(memory.window, sheet.frames, SOME_WIDTH);
    const nearer = zoomed(scale, sheet.frames, xOf(scale, player.frame), factor);
    change({ window: windowOf(nearer, sheet.frames) });
  };
  const step = (frames: number) => {
    onLook(null);
    player.step(frames);
  };
  const may = (edit: () => void) => () => {
    // What is done in between ends a number: a digit after it begins another.
    typed.current.digits = '';
    if (run.may_change) edit();
  };
  const mayWrite = (digit: number) => () => {
    if (run.may_change) write(digit);
  };
  const digits = Object.fromEntries(
    DIGITS.map((digit) => [`write${digit}`, mayWrite(digit)]),
  ) as Partial<Record<DrawingsAction, () => void>>;
  useShortcuts(DRAWINGS_KEYS, {
    ...digits,
    play: () => player.toggle(),
    flipBack: () => flip(-1),
    flipOn: () => flip(1),
    back: () => step(-1),
    forward: () => step(1),
    backTen: () => step(-10),
    forwardTen: () => step(10),
    first: () => goTo(0),
    last: () => goTo(Number.MAX_SAFE_INTEGER),
    slower: () => player.shiftSpeed(-1),
    faster: () => player.shiftSpeed(1),
    longer: may(() => held(1)),
    shorter: may(() => held(-1)),
    takeOut: may(() => {
      const place = exposed()?.place;
      if (place === null || place === undefined)
        notices.say('What shows here is no exposure of the order by itself.');
      else onEdit({ kind: 'take_out_drawings', places: [place] });
    }),
    pin: may(() => {
      const here = exposed();
      if (here)
        onEdit({ kind: 'pin_drawing', drawing: here.drawing, frame: player.frame, instead: null });
    }),
    unpin: may(() => onEdit({ kind: 'unpin_drawing', frame: player.frame })),
    drawAnew: may(() => {
      if (sheet.run.play === 'boil') drawAnew();
    }),
    light: () => change({ light: !memory.light }),
    nudge: () => change({ hand: memory.hand === 'nudge' ? 'look' : 'nudge' }),
    mark: () => change({ hand: memory.hand === 'mark' ? 'look' : 'mark' }),
    nudgeLeft: may(() => nudge(-1, 0)),
    nudgeRight: may(() => nudge(1, 0)),
    nudgeUp: may(() => nudge(0, 1)),
    nudgeDown: may(() => nudge(0, -1)),
    rowAbove: () => step(-1),
    rowBelow: () => step(1),
    nearer: () => zoom(ZOOM),
    farther: () => zoom(1 / ZOOM),
    letGo: () => {
      onLook(null);
      change({ laid: [] });
    },
    undo: state.undo,
    redo: state.redo,
    history: onHistory,
    keys: onKeys,
  });
  return { flip, drawAnew };
}
