import { type PointerEvent, useEffect, useMemo, useRef } from 'react';
import type { DrawnSet } from '../../../api/drawings';
import { sharp } from '../../../stage/sharp';
import type { Drawing, DrawingsRoomParts } from '../room';
import { neighbours, shownAt } from '../shown';
import { spacingOf } from '../spacing';
import type { Nudge } from '../useNudging';
import { frameOf, paintTable, shareAt, type TableFrame } from './paintTable';
import { TableTag } from './TableTag';

/** The drawing that shows on its pegs, inked, with its neighbours in pencil under it. */
export function LightTable({ room }: { readonly room: DrawingsRoomParts }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<TableFrame | null>(null);
  const { player, pictures, drawings, drawn, sheet, memory, looked, set, nudge } = room;
  const { hand, point } = memory;
  const nudged = useRef<{ number: number; x: number; y: number } | null>(null);
  const paint = useMemo(
    () => () => {
      const on = sharp(canvas.current);
      if (!on) return;
      const { context, width, height } = on;
      context.clearRect(0, 0, width, height);
      const fitted = frameOf(drawings.values(), width, height);
      frame.current = fitted;
      const here = looked ?? shownAt(sheet.shown, player.frame)?.drawing;
      const named = (numbers: readonly number[]) =>
        numbers.flatMap((number) => drawings.get(number) ?? []);
      const shows = memory.light && looked === null && !player.snapshot().playing;
      const shown = here === undefined ? null : (drawings.get(here) ?? null);
      paintTable(
        context,
        fitted,
        {
          shown: shown && moved(nudgedBy(shown, nudge, drawn), nudged.current, fitted),
          before: shows ? named(neighbours(sheet.shown, player.frame, -1, memory.before)) : [],
          after: shows ? named(neighbours(sheet.shown, player.frame, 1, memory.after)) : [],
          laid: memory.light ? named(memory.laid).filter((one) => one !== shown) : [],
          spacing: player.snapshot().playing ? null : spacingOf(sheet, point),
          heightPixels: drawn?.drawings.height_pixels ?? 1,
          point,
        },
        pictures,
      );
      // What comes next is there when it is turned to.
      pictures.expect(
        neighbours(sheet.shown, player.frame, 1, AHEAD).flatMap((number) => {
          const next = drawings.get(number);
          return next ? [next.picture.file] : [];
        }),
      );
    },
    [drawings, drawn, sheet, player, pictures, memory, looked, point, nudge],
  );
  useEffect(() => {
    paint();
    const element = canvas.current;
    const observer = new ResizeObserver(paint);
    if (element) observer.observe(element);
    const offs = [player.onFrame(paint), player.subscribe(paint), pictures.onCame(paint)];
    return () => {
      observer.disconnect();
      for (const off of offs) off();
    };
  }, [paint, player, pictures]);

  const press = (event: PointerEvent<HTMLCanvasElement>) => {
    const fitted = frame.current;
    const here = looked ?? shownAt(sheet.shown, player.frame)?.drawing;
    const drawing = here === undefined ? undefined : drawings.get(here);
    if (!fitted || !drawing || event.button !== 0 || !drawn?.may_change) return;
    const { left, top } = event.currentTarget.getBoundingClientRect();
    if (hand === 'mark') {
      const at = shareAt(fitted, drawing, event.clientX - left, event.clientY - top);
      set.change({ kind: 'mark_point', number: drawing.number, point, at: [...at] });
      return;
    }
    if (hand !== 'nudge') return;
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    const from = { x: event.clientX, y: event.clientY };
    element.onpointermove = (to) => {
      nudged.current = { number: drawing.number, x: to.clientX - from.x, y: to.clientY - from.y };
      paint();
    };
    element.onpointerup = (to) => {
      element.onpointermove = null;
      element.onpointerup = null;
      nudged.current = null;
      const pixels =
        drawn.drawings.height_pixels / fitted.scale / (drawn.drawings.drawn.pegs?.scale ?? 1);
      const [x, y] = drawing.shift_pixels ?? [0, 0];
      const shift: [number, number] = [
        Math.round(x + (to.clientX - from.x) * pixels),
        Math.round(y - (to.clientY - from.y) * pixels),
      ];
      if (shift[0] !== x || shift[1] !== y)
        set.change({ kind: 'nudge_drawing', number: drawing.number, shift_pixels: shift });
      paint();
    };
  };
  return (
    <section className="light-table" aria-label="Light table">
      <canvas
        ref={canvas}
        className={`is-${hand}`}
        onPointerDown={press}
        data-testid="light-table"
      />
      <TableTag room={room} />
    </section>
  );
}

const AHEAD = 8;

/** A drawing as keys have nudged it, before that is saved. */
function nudgedBy(drawing: Drawing, nudge: Nudge | null, drawn: DrawnSet | null): Drawing {
  if (nudge?.number !== drawing.number || !drawn) return drawing;
  const [across, up] = drawing.shift_pixels ?? [0, 0];
  const { height_pixels: high, drawn: set } = drawn.drawings;
  const pixels = (set.pegs?.scale ?? 1) / high;
  return shifted(drawing, (nudge.shift[0] - across) * pixels, (nudge.shift[1] - up) * pixels);
}

function shifted(drawing: Drawing, x: number, y: number): Drawing {
  const { placed } = drawing;
  const [a, b, c] = placed.across;
  const [d, e, f] = placed.up;
  return { ...drawing, placed: { ...placed, across: [a, b, c + x], up: [d, e, f + y] } };
}

/** A drawing as a hand that nudges it has it. */
function moved(
  drawing: Drawing,
  by: { readonly number: number; readonly x: number; readonly y: number } | null,
  frame: TableFrame,
): Drawing {
  if (by?.number !== drawing.number) return drawing;
  return shifted(drawing, by.x / frame.scale, -by.y / frame.scale);
}
