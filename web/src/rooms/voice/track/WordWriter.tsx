import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import { startDraw } from '../../../app/drawing';
import { frameAt, type Scale, xOf } from '../../../desk/scale';
import type { VoiceRoomParts, Writing } from '../room';
import { frameOf, over } from '../spoken';

interface WriterProps {
  readonly room: VoiceRoomParts;
  readonly scale: Scale;
}

const LEAST_WIDTH = 130;

/** Words written along the wave: typed in their place; Enter keeps them and stands behind them. */
export function WordWriter({ room, scale }: WriterProps) {
  const { sheet, writing, onWriting, onEdit, goTo } = room;
  // A field that goes away loses the focus: what was decided already is not decided once more.
  const decided = useRef<Writing | null>(null);
  if (!writing) return null;
  const left = xOf(scale, writing.start * sheet.fps);
  const wide = xOf(scale, writing.end * sheet.fps) - left;
  const close = () => {
    decided.current = writing;
    onWriting(null);
  };
  const keep = (typed: string) => {
    if (decided.current === writing) return;
    const text = typed.trim();
    close();
    if (text === writing.text) return;
    onEdit({ kind: 'write_words', start: writing.start, end: writing.end, text });
    goTo(Math.min(sheet.frames - 1, frameOf(writing.end, sheet.fps)));
  };
  const press = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter') keep(event.currentTarget.value);
    if (event.key === 'Escape') close();
    event.stopPropagation();
  };
  return (
    <input
      key={`${writing.start} ${writing.end}`}
      className="word-writer form-control"
      style={{ left, width: Math.max(LEAST_WIDTH, wide) }}
      aria-label={`Words from ${writing.start.toFixed(2)} to ${writing.end.toFixed(2)} s`}
      title="How a word is said may stand after it: lamp /l ae m p/"
      defaultValue={writing.text}
      maxLength={1000}
      // biome-ignore lint/a11y/noAutofocus: whoever asked to write writes at once
      autoFocus
      onFocus={(event) => event.currentTarget.select()}
      onKeyDown={press}
      onBlur={(event) => keep(event.currentTarget.value)}
    />
  );
}

/** Drawing over the row of words says where words are to be written; a press goes there. */
export function useWordDraw({ room, scale }: WriterProps) {
  const [drawn, setDrawn] = useState<Writing | null>(null);
  const { sheet, line, onWriting, goTo } = room;
  const words = sheet.reading?.words ?? [];
  const grab = (event: PointerEvent<HTMLElement>) => {
    const target = event.target as HTMLElement;
    if (event.button !== 0 || target.closest('button, input, .boundary')) return;
    event.preventDefault();
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const at = (pixels: number) =>
      Math.max(0, Math.min(sheet.seconds, frameAt(scale, pixels) / sheet.fps));
    const from = at(x);
    const to = (dx: number) => {
      const there = at(x + dx);
      return over(words, Math.min(from, there), Math.max(from, there));
    };
    startDraw(event.clientX, event.clientY, {
      onMove: (dx) => line.may_change && setDrawn(to(dx)),
      onDrop: (dx) => {
        setDrawn(null);
        onWriting(to(dx));
      },
      onPress: () => goTo(frameOf(from, sheet.fps)),
      onCancel: () => setDrawn(null),
    });
  };
  return { drawn, grab };
}
