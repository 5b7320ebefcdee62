import { useRef } from 'react';
import { useNotices } from '../../app/notices';
import { useShortcuts } from '../../app/shortcuts';
import { scaleOf, windowOf, xOf, zoomed } from '../../desk/scale';
import { heldAt } from '../../player/heldAt';
import { FIRST_FRAME } from './firstFrame';
import type { VoiceRoomParts } from './room';
import { copiedFrom, pastedAt, type SheetCopy } from './sheet/copied';
import { rangeOf, wordAt, writingAt } from './spoken';
import type { LineState } from './useLine';
import type { ReadingHands } from './useReading';
import { DIGITS, VOICE_KEYS, type VoiceAction } from './voiceKeys';

interface Options {
  readonly room: VoiceRoomParts;
  readonly state: LineState;
  readonly reading: ReadingHands;
  readonly onHistory: () => void;
  readonly onSheet: () => void;
  readonly onNote: (frame: number) => void;
}

export interface VoiceHands extends ReadingHands {
  readonly toMouth: (way: 1 | -1) => void;
  readonly loopWord: () => void;
}

const ZOOM = 1.5;
/** Zooming by keys goes by any width: only what shows in it matters. */
const SOME_WIDTH = 900;
/** A second digit that follows so soon belongs to the first. */
const TOGETHER_MS = 700;

/** What can be done in the voice room, by keys and by its buttons. */
export function useVoiceActions(options: Options): VoiceHands {
  const { room, state, reading } = options;
  const { line, sheet, player, track, memory, change, rows, onRows, onEdit, goTo } = room;
  const notices = useNotices();
  const copy = useRef<SheetCopy | null>(null);
  const typed = useRef({ digits: '', at: 0 });
  const anchor = useRef<number | null>(null);
  const words = sheet.reading?.words ?? [];

  const toMouth = (way: 1 | -1) => {
    const starts = sheet.run.map(({ frame }) => frame);
    const there =
      way < 0
        ? starts.findLast((frame) => frame < player.frame)
        : starts.find((frame) => frame > player.frame);
    if (there !== undefined) goTo(there);
  };
  const heard = words.filter((word) => word.fits !== false);
  const toWord = (way: 1 | -1) => {
    const starts = heard.map((word) => rangeOf(word, sheet).start);
    const there =
      way < 0
        ? starts.findLast((frame) => frame < player.frame)
        : starts.find((frame) => frame > player.frame);
    if (there !== undefined) goTo(there);
  };
  const loopWord = () => {
    if (player.snapshot().range) {
      player.setRange(null);
      return;
    }
    const word = words[wordAt(words, player.frame / sheet.fps)];
    if (!word) {
      notices.say('No word is read here yet.');
      return;
    }
    player.setRange(rangeOf(word, sheet));
    player.setLoop(true);
    player.play();
  };
  /** The rows that are chosen, or what shows on the current one. */
  const chosen = () => {
    if (rows) return rows;
    const here = heldAt(sheet.run, player.frame);
    return here
      ? { start: here.frame, end: here.frame + here.length }
      : { start: player.frame, end: player.frame + 1 };
  };
  const choose = (way: 1 | -1) => {
    const from = rows && anchor.current !== null ? anchor.current : player.frame;
    anchor.current = from;
    player.step(way);
    onRows({ start: Math.min(from, player.frame), end: Math.max(from, player.frame) + 1 });
  };
  const step = (frames: number) => {
    onRows(null);
    player.step(frames);
  };
  const draw = (digit: number) => {
    const now = performance.now();
    const { digits, at } = typed.current;
    const numbers = new Map(sheet.mouths.map((mouth) => [mouth.drawing, mouth.key]));
    const both = now - at < TOGETHER_MS ? numbers.get(Number(`${digits}${digit}`)) : undefined;
    const key = both ?? numbers.get(digit || 10);
    typed.current = { digits: String(digit), at: now };
    if (key) room.expose(key);
    else notices.say(`The chart has no drawing ${digit || 10}.`);
  };
  const zoom = (factor: number) => {
    const scale = scaleOf(memory.window, sheet.frames, SOME_WIDTH);
    const nearer = zoomed(scale, sheet.frames, xOf(scale, player.frame), factor);
    change({ window: windowOf(nearer, sheet.frames) });
  };
  const may = (edit: () => void) => () => {
    if (line.may_change) edit();
  };
  const digits = Object.fromEntries(
    DIGITS.map((digit) => [`draw${digit}`, may(() => draw(digit))]),
  ) as Partial<Record<VoiceAction, () => void>>;

  useShortcuts(VOICE_KEYS, {
    ...digits,
    play: () => player.toggle(),
    back: () => step(-1),
    forward: () => step(1),
    backTen: () => step(-10),
    forwardTen: () => step(10),
    first: () => goTo(0),
    last: () => goTo(Number.MAX_SAFE_INTEGER),
    mouthBefore: () => toMouth(-1),
    mouthAfter: () => toMouth(1),
    wordBefore: () => toWord(-1),
    wordAfter: () => toWord(1),
    slower: () => player.shiftSpeed(-1),
    faster: () => player.shiftSpeed(1),
    loopWord,
    sound: () => track.setOn(!track.snapshot().isOn),
    nearer: () => zoom(ZOOM),
    farther: () => zoom(1 / ZOOM),
    rowAbove: () => step(-1),
    rowBelow: () => step(1),
    rowsAbove: () => choose(-1),
    rowsBelow: () => choose(1),
    allRows: () => onRows({ start: 0, end: sheet.frames }),
    letGo: () => onRows(null),
    longer: may(() => onEdit({ kind: 'hold_mouth', frame: player.frame, frames: 1 })),
    shorter: may(() => onEdit({ kind: 'hold_mouth', frame: player.frame, frames: -1 })),
    lift: may(() => onEdit({ kind: 'lift_mouths', ...chosen() })),
    copy: () => {
      copy.current = copiedFrom(sheet.run, chosen());
      const { start, end } = chosen();
      notices.say(`Frames ${start + FIRST_FRAME} to ${end - 1 + FIRST_FRAME} are copied.`);
    },
    paste: may(() => {
      const mouths = copy.current && pastedAt(copy.current, player.frame, sheet.frames);
      if (mouths?.length) onEdit({ kind: 'expose_mouths', mouths });
      else notices.say('Nothing is copied yet.');
    }),
    repeat: may(() => onEdit({ kind: 'repeat_mouths', ...chosen(), times: 1 })),
    turnRound: may(() => onEdit({ kind: 'turn_mouths_round', ...chosen() })),
    fill: may(() => onEdit({ kind: 'fill_on', ...chosen(), on: sheet.rules.on ?? 2 })),
    writeWords: may(() => room.onWriting(writingAt(sheet, player.frame, player.snapshot().range))),
    note: may(() => options.onNote(player.frame)),
    blink: may(() => {
      const { frame } = player;
      const isShut = heldAt(sheet.eyes, frame)?.mouth !== 'open';
      onEdit({ kind: 'set_blink', frame, blinks: !isShut });
    }),
    text: () => change({ tab: memory.tab === 'text' ? 'mouths' : 'text' }),
    read: may(() => reading.read(false)),
    readBetween: may(() => reading.readBetween(player.frame / sheet.fps)),
    undo: state.undo,
    redo: state.redo,
    history: options.onHistory,
    keys: options.onSheet,
  });
  return { ...reading, toMouth, loopWord };
}
