import {
  type FocusEvent,
  type PointerEvent,
  type ReactNode,
  useEffect,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { Player, Range } from '../../player/player';
import { useFrame } from '../../player/useFrame';
import './sheet.css';

/** A drawing on a sheet, from a frame on: `key` names its picture. */
export interface SheetDrawing {
  readonly frame: number;
  readonly length: number;
  readonly drawing: number;
  readonly key: string;
  readonly isByHand: boolean;
}

/** What is said from a row on, for so many. */
export interface SaidHere {
  readonly text: string;
  readonly length: number;
}

export type SaidRows = ReadonlyMap<number, SaidHere>;

/** A column of drawings on a sheet: what is exposed, and its pictures. */
export interface SheetColumn {
  readonly name: string;
  readonly run: readonly SheetDrawing[];
  readonly picture: (key: string) => ReactNode;
  /** Its pictures take as many rows as they are held for, three at the most. */
  readonly isTall?: boolean;
  /** What was written a moment ago and is on its way, by its frames. */
  readonly asked?: ReadonlyMap<number, { readonly key: string; readonly drawing: number }>;
}

interface SheetProps {
  readonly title: string;
  readonly frames: number;
  readonly firstFrame: number;
  readonly framesPerSecond: number;
  readonly notes: ReadonlyMap<number, string>;
  /** Words and phones, on the sheet of what is spoken. */
  readonly words?: SaidRows;
  readonly phones?: SaidRows;
  readonly columns: readonly SheetColumn[];
  readonly player: Player;
  /** Rows that are chosen, `[start, end)`. */
  readonly rows: Range | null;
  readonly onRows: (rows: Range | null) => void;
  /** The frame whose note is being written, and what becomes of it, where notes are written. */
  readonly noteOn?: number | null;
  readonly onNote?: (frame: number | null) => void;
  readonly onNoteWritten?: (frame: number, text: string) => void;
  readonly tools?: ReactNode;
}

const ROW_HEIGHT = 20;
const HEAD_HEIGHT = 22;
/** So many frames of film are a foot long. */
const FOOT_FRAMES = 16;
const MORE_ROWS = 8;

/** An exposure sheet: a row a frame, a column for what happens, is said, and is drawn. Only rows in sight are
 * there. */
export function ExposureSheet(props: SheetProps) {
  const { title, frames, firstFrame, framesPerSecond, columns, player, rows, tools } = props;
  const current = useFrame(player);
  const place = useRef<HTMLDivElement>(null);
  const [seen, setSeen] = useState({ first: 0, count: 40 });
  useEffect(() => {
    const element = place.current;
    if (!element) return undefined;
    const look = () => {
      const first = Math.max(0, Math.floor(element.scrollTop / ROW_HEIGHT) - MORE_ROWS);
      const count = Math.ceil(element.clientHeight / ROW_HEIGHT) + 2 * MORE_ROWS;
      setSeen((known) =>
        known.first === first && known.count === count ? known : { first, count },
      );
    };
    const observer = new ResizeObserver(look);
    observer.observe(element);
    element.addEventListener('scroll', look);
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', look);
    };
  }, []);
  // The current row stays in sight, in play too: by hand, and not by React.
  useEffect(() => {
    const show = (frame: number) => {
      const element = place.current;
      const mark = element?.querySelector<HTMLElement>('.row-now');
      if (!element || !mark) return;
      mark.style.transform = `translateY(${frame * ROW_HEIGHT}px)`;
      const top = frame * ROW_HEIGHT;
      const { scrollTop, clientHeight } = element;
      if (top < scrollTop || top > scrollTop + clientHeight - HEAD_HEIGHT - 2 * ROW_HEIGHT)
        element.scrollTop = Math.max(0, top - clientHeight / 3);
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player]);
  const frameAt = (event: PointerEvent<HTMLElement>) => {
    const element = place.current;
    if (!element) return 0;
    const y = event.clientY - element.getBoundingClientRect().top + element.scrollTop - HEAD_HEIGHT;
    return Math.max(0, Math.min(frames - 1, Math.floor(y / ROW_HEIGHT)));
  };
  const press = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || (event.target as HTMLElement).closest('input')) return;
    const from = event.shiftKey ? player.frame : frameAt(event);
    player.pause();
    player.goTo(frameAt(event));
    const choose = (to: number) =>
      props.onRows(to === from ? null : { start: Math.min(from, to), end: Math.max(from, to) + 1 });
    choose(frameAt(event));
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    element.onpointermove = (moved) => choose(frameAt(moved as never));
    element.onpointerup = () => {
      element.onpointermove = null;
    };
  };
  const end = Math.min(frames, seen.first + seen.count);
  const shown = Array.from({ length: Math.max(0, end - seen.first) }, (_, k) => seen.first + k);
  const byFrame = useMemo(() => columns.map((column) => startsOf(column)), [columns]);
  const second = Math.round(framesPerSecond);
  return (
    <section className="exposure-sheet" aria-label="Exposure sheet">
      <header>
        <h2>Exposure sheet</h2>
        <span className="grow" />
        <span className="quiet sheet-title">{title}</span>
        {tools}
      </header>
      <div className="pegs" aria-hidden="true">
        <i /> <b /> <i />
      </div>
      <section
        ref={place}
        className="sheet-rows"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, and the room’s keys walk along its rows
        tabIndex={0}
        aria-label={`${title}, frames ${firstFrame} to ${frames - 1 + firstFrame}`}
        onPointerDown={press}
      >
        <i className="row-now" />
        {rows && (
          <i
            className="rows-chosen"
            style={{
              top: HEAD_HEIGHT + rows.start * ROW_HEIGHT,
              height: (rows.end - rows.start) * ROW_HEIGHT,
            }}
          />
        )}
        <table aria-rowcount={frames + 1}>
          <thead>
            <tr>
              <th className="is-frame">Frame</th>
              <th className="is-note">Notes</th>
              {props.words && <th className="is-word">Word</th>}
              {props.phones && <th className="is-phone">Phone</th>}
              {columns.map(({ name }) => (
                <th key={name} className="is-drawing">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <Room rows={seen.first} />
            {shown.map((frame) => (
              <tr
                key={frame}
                className={(frame + firstFrame) % second === 1 ? 'is-second' : ''}
                aria-rowindex={frame + 2}
                {...(frame === current && { 'aria-current': 'true' as const })}
              >
                <th
                  className="is-frame number"
                  scope="row"
                  data-foot={(frame + 1) % FOOT_FRAMES ? undefined : (frame + 1) / FOOT_FRAMES}
                >
                  {frame + firstFrame}
                </th>
                <td className="is-note">
                  {props.noteOn === frame ? (
                    <NoteBox {...props} frame={frame} />
                  ) : (
                    props.notes.get(frame)
                  )}
                </td>
                {props.words && (
                  <td className="is-word">
                    <Said said={props.words.get(frame)} />
                  </td>
                )}
                {props.phones && (
                  <td className="is-phone number">
                    <Said said={props.phones.get(frame)} />
                  </td>
                )}
                {columns.map((column, place) => (
                  <td key={column.name} className="is-drawing">
                    <Cell
                      column={column}
                      exposed={byFrame[place].get(frame)}
                      asked={column.asked?.get(frame)}
                    />
                  </td>
                ))}
              </tr>
            ))}
            <Room rows={frames - end} />
          </tbody>
        </table>
      </section>
    </section>
  );
}

/** The place of rows that are out of sight. */
const Room = ({ rows }: { readonly rows: number }) =>
  rows > 0 ? <tr style={{ height: rows * ROW_HEIGHT }} /> : null;

const startsOf = ({ run }: SheetColumn): ReadonlyMap<number, SheetDrawing> =>
  new Map(run.map((one) => [one.frame, one]));

/** A word or a phone where it begins, with the line that holds it. */
function Said({ said }: { readonly said: SaidHere | undefined }) {
  if (!said) return null;
  return (
    <>
      <span>{said.text}</span>
      {said.length > 1 && (
        <i className="hold" style={{ height: (said.length - 1) * ROW_HEIGHT - 4 }} />
      )}
    </>
  );
}

const MOST_TALL_ROWS = 3;
const tallOf = (rows: number) => Math.min(MOST_TALL_ROWS, rows) * ROW_HEIGHT - 3;

interface CellProps {
  readonly column: SheetColumn;
  readonly exposed: SheetDrawing | undefined;
  readonly asked: { readonly key: string; readonly drawing: number } | undefined;
}

/** A drawing where it begins, with the line that holds it. */
function Cell({ column, exposed, asked }: CellProps) {
  if (asked) {
    return (
      <>
        <span className="cell-picture">{column.picture(asked.key)}</span>
        <b className="cell-number number is-asked">{asked.drawing}</b>
      </>
    );
  }
  if (!exposed) return null;
  return (
    <>
      <span
        className="cell-picture"
        style={column.isTall ? { height: tallOf(exposed.length) } : undefined}
      >
        {column.picture(exposed.key)}
      </span>
      <b className="cell-number number">{exposed.drawing}</b>
      {exposed.isByHand && (
        <span className="cell-tick" title="Set by hand">
          ✓
        </span>
      )}
      {exposed.length > 1 && (
        <i className="hold" style={{ height: (exposed.length - 1) * ROW_HEIGHT - 4 }} />
      )}
    </>
  );
}

interface NoteBoxProps extends SheetProps {
  readonly frame: number;
}

function NoteBox({ frame, notes, onNote, onNoteWritten }: NoteBoxProps) {
  const standing = notes.get(frame) ?? '';
  const keep = (event: FocusEvent<HTMLInputElement>) => {
    const text = event.target.value.trim();
    if (text !== standing) onNoteWritten?.(frame, text);
    onNote?.(null);
  };
  return (
    <input
      // biome-ignore lint/a11y/noAutofocus: it was just asked for
      autoFocus
      className="note-box"
      aria-label="Note on this frame"
      defaultValue={standing}
      maxLength={200}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === 'Escape') event.currentTarget.value = standing;
        if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
      }}
    />
  );
}
