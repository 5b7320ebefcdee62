import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import { startDraw } from '../../app/drawing';
import { BEAT_HEIGHT, BeatRow, drawnBeat } from '../../desk/BeatRow';
import { Playhead } from '../../desk/Playhead';
import { RULER_HEIGHT, Ruler } from '../../desk/Ruler';
import {
  frameAt,
  LABEL_WIDTH,
  panned,
  type Scale,
  scaleOf,
  type Window,
  windowOf,
  xOf,
  zoomed,
} from '../../desk/scale';
import type { Player } from '../../player/player';
import {
  AFTER_TEXT,
  AMBER,
  GRAPHITE,
  INK,
  LAMP_WASH,
  PAPER,
  PENCIL_BLUE,
  PENCIL_RED,
  RULE_SOFT,
  RULE_STRONG,
  SHEET,
} from '../../stage/colour';
import { sharp } from '../../stage/sharp';
import {
  byJoint,
  chosenAt,
  countOf,
  isChosenAt,
  merged,
  rowsOf,
  type SheetRow,
  without,
  writtenKeys,
} from './sheet';

interface KeySheetProps {
  readonly bench: Clip['bench'];
  readonly player: Player;
  readonly joints: readonly string[];
  readonly keys: Chosen;
  readonly folded: readonly string[];
  readonly mayChange: boolean;
  /** An edit is on its way. */
  readonly isSaving: boolean;
  readonly snap: boolean;
  readonly onSnap: (snap: boolean) => void;
  /** The chosen beat. */
  readonly beat: string | null;
  readonly onBeat: (beat: string) => void;
  readonly onKeys: (keys: Chosen) => void;
  readonly onJoints: (joints: readonly string[]) => void;
  readonly onFold: (folded: readonly string[]) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onEdit: (edit: ClipEdit) => void;
}

const ROW = 19;
const REACH = 5;
/** Pixels a frame below which keys stand close together. */
const CLOSE = 7;
/** Keys by joint and body part: ticks, and bars under held spans. Only the rows in sight are drawn. */
export function KeySheet(props: KeySheetProps) {
  const { bench, player, joints, keys, folded, mayChange, snap } = props;
  const area = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const scrolled = useRef(0);
  const [width, setWidth] = useState(500);
  const [box, setBox] = useState<Box | null>(null);
  const rows = useMemo(() => rowsOf(bench, folded), [bench, folded]);
  const frames = bench.length_frames + (bench.is_cycle ? 1 : 0);
  const [seen, setSeen] = useState<Window | null>(null);
  const scale = useMemo(() => scaleOf(seen, frames, width), [seen, frames, width]);
  const picked = useMemo(() => byJoint(bench, keys), [bench, keys]);

  const paint = useCallback(() => {
    const drawn = sharp(canvas.current, { alpha: false });
    if (!drawn) return;
    const { context, width: wide, height } = drawn;
    paintRows(context, wide, height, rows, scale, scrolled.current, {
      length: bench.length_frames,
      isCycle: bench.is_cycle,
      half: bench.half_linked ? bench.length_frames / 2 : null,
      joints,
      isChosen: (row, time) => isChosenAt(picked, row, time),
    });
  }, [rows, scale, bench, joints, picked]);
  useEffect(paint, [paint]);

  useEffect(() => {
    const element = area.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => {
      setWidth(element.clientWidth);
      paint();
    });
    observer.observe(element);
    void document.fonts?.ready.then(paint);
    return () => observer.disconnect();
  }, [paint]);

  const most = () => Math.max(0, rows.length * ROW - (canvas.current?.clientHeight ?? 0));
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const x = event.clientX - element.getBoundingClientRect().left;
      if (event.ctrlKey || event.metaKey) {
        setSeen(windowOf(zoomed(scale, frames, x, 1.0018 ** -event.deltaY), frames));
        return;
      }
      if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        setSeen(windowOf(panned(scale, frames, event.deltaX || event.deltaY), frames));
        return;
      }
      const room = Math.max(0, rows.length * ROW - element.clientHeight);
      scrolled.current = Math.max(0, Math.min(room, scrolled.current + event.deltaY));
      element.dataset.scrolled = String(scrolled.current);
      paint();
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [rows, paint, scale, frames]);
  // A fold can leave the sheet scrolled beyond its end.
  useEffect(() => {
    const room = Math.max(0, rows.length * ROW - (canvas.current?.clientHeight ?? 0));
    if (scrolled.current > room) {
      scrolled.current = room;
      paint();
    }
  }, [rows, paint]);

  const spot = (event: { clientX: number; clientY: number }) => {
    const at = canvas.current?.getBoundingClientRect();
    const x = event.clientX - (at?.left ?? 0);
    const y = event.clientY - (at?.top ?? 0) + scrolled.current;
    return { x, y, row: rows[Math.floor(y / ROW)] as SheetRow | undefined };
  };

  const press = (event: PointerEvent<HTMLCanvasElement>) => {
    if (event.button !== 0) return;
    const { x, y, row } = spot(event);
    if (x < LABEL_WIDTH) {
      if (row) pressLabel(row, x, event.shiftKey);
      return;
    }
    const tick = row && tickUnder(row, scale, x);
    if (tick === undefined || !row) {
      drawBox(event, x, y);
      return;
    }
    const here = chosenAt(bench, row.joints, (time) => time === tick);
    const isChosen = isChosenAt(picked, row, tick);
    // Among keys that stand close together a draw is a box; only chosen ones are drawn along.
    if (scale.pixelsPerFrame < CLOSE && !isChosen) {
      drawBox(event, x, y, () => props.onKeys(event.shiftKey ? merged(keys, here) : here));
      return;
    }
    let held: Chosen = keys;
    if (event.shiftKey) held = isChosen ? without(keys, here) : merged(keys, here);
    else if (!isChosen) held = here;
    props.onKeys(held);
    if (mayChange && countOf(held)) drawKeys(event, held, tick);
  };

  const pressLabel = (row: SheetRow, x: number, adding: boolean) => {
    if (row.kind === 'part' && x < 22) {
      const id = row.label;
      props.onFold(folded.includes(id) ? folded.filter((part) => part !== id) : [...folded, id]);
      return;
    }
    const all = row.joints.every((joint) => joints.includes(joint));
    if (!adding) props.onJoints(row.joints);
    else if (all) props.onJoints(joints.filter((joint) => !row.joints.includes(joint)));
    else props.onJoints([...new Set([...joints, ...row.joints])]);
  };

  const drawBox = (event: PointerEvent, x: number, y: number, onPress?: () => void) => {
    const adding = event.shiftKey;
    const before = keys;
    startDraw(event.clientX, event.clientY, {
      onMove: (dx, dy) => {
        const top = y - scrolled.current;
        setBox(boxOf(x, top, x + dx, top + dy));
      },
      onDrop: (dx, dy) => {
        setBox(null);
        const [from, to] = [Math.min(x, x + dx), Math.max(x, x + dx)];
        const [top, bottom] = [Math.min(y, y + dy), Math.max(y, y + dy)];
        const touched = rows.filter((_, place) => {
          const middle = (place + 0.5) * ROW;
          return middle >= top && middle <= bottom;
        });
        const first = frameAt(scale, from) - 0.5;
        const last = frameAt(scale, to) - 0.5;
        const found = chosenAt(
          bench,
          touched.flatMap((row) => row.joints),
          (time) => time >= first && time <= last,
        );
        props.onKeys(adding ? merged(before, found) : found);
      },
      onPress: () => {
        if (onPress) {
          onPress();
          return;
        }
        player.pause();
        player.goTo(Math.floor(frameAt(scale, x)));
        if (!adding) props.onKeys({});
      },
      onCancel: () => setBox(null),
    });
  };

  /** Whole frames, or hundredths of one. */
  const landing = (frames: number) =>
    snap ? Math.floor(frames + 0.5) : Math.round(frames * 100) / 100;
  const drawKeys = (event: PointerEvent, held: Chosen, tick: number) => {
    const times = Object.values(held).flat();
    const [first, last] = [Math.min(...times), Math.max(...times)];
    const scaling = event.altKey && last > first;
    const pivot = tick === first ? last : first;
    const editOf = (dx: number): ClipEdit | null => {
      const frames = landing(dx / scale.pixelsPerFrame);
      if (!frames) return null;
      if (!scaling)
        return { kind: 'move_keys', chosen: writtenKeys(held), frames, ripple: false, snap };
      const factor = (tick + frames - pivot) / (tick - pivot);
      return factor > 0
        ? { kind: 'scale_keys', chosen: writtenKeys(held), pivot, factor, snap }
        : null;
    };
    startDraw(event.clientX, event.clientY, {
      onMove: (dx) => props.onPreview(editOf(dx)),
      onDrop: (dx) => {
        const edit = editOf(dx);
        if (edit) props.onEdit(edit);
        else props.onPreview(null);
      },
      onCancel: () => props.onPreview(null),
    });
  };

  const { beats } = bench;
  const above = RULER_HEIGHT + (beats.length ? BEAT_HEIGHT : 0);
  return (
    <div className="key-sheet" ref={area}>
      <div className="sheet-ruler">
        <Ruler
          head={null}
          scale={scale}
          length={bench.length_frames}
          firstFrame={0}
          framesPerSecond={bench.frames_per_second}
          player={player}
        />
      </div>
      {!snap && (
        <button type="button" className="snap-flag" onClick={() => props.onSnap(true)}>
          keys land anywhere
        </button>
      )}
      {beats.length > 0 && (
        <BeatRow
          beats={beats}
          scale={scale}
          firstFrame={0}
          chosen={props.beat}
          hint=""
          onChoose={props.onBeat}
          onGrab={(event, beat, grip) => {
            event.stopPropagation();
            if (event.button !== 0) return;
            props.onBeat(beat.id);
            if (!mayChange) return;
            const editOf = (dx: number) => {
              const frames = Math.round(dx / scale.pixelsPerFrame);
              return frames ? drawnBeat(beat, grip, frames) : null;
            };
            startDraw(event.clientX, event.clientY, {
              onMove: (dx) => props.onPreview(editOf(dx)),
              onDrop: (dx) => {
                const edit = editOf(dx);
                if (edit) props.onEdit(edit);
                else props.onPreview(null);
              },
              onCancel: () => props.onPreview(null),
            });
          }}
          isSaving={props.isSaving}
          onNudge={(edit) => {
            if (mayChange) props.onEdit(edit);
          }}
          onGo={(beat) => player.goTo(beat.start)}
        />
      )}
      <canvas
        ref={canvas}
        className="sheet-canvas"
        role="img"
        tabIndex={0}
        aria-label={`Key sheet: ${rows.length} rows, ${rows[0].keys.length} frames with keys, ${countOf(keys)} keys chosen`}
        data-chosen={countOf(keys)}
        data-most={most()}
        onPointerDown={press}
      />
      {box && <div className="choose-box" style={{ ...box, top: box.top + above }} />}
      <Playhead player={player} scale={scale} firstFrame={0} digits={2} />
    </div>
  );
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

const boxOf = (x: number, y: number, toX: number, toY: number): Box => ({
  left: Math.min(x, toX),
  top: Math.min(y, toY),
  width: Math.abs(toX - x),
  height: Math.abs(toY - y),
});

const middleOf = (scale: Scale, time: number) => xOf(scale, time + 0.5);

function tickUnder(row: SheetRow, scale: Scale, x: number): number | undefined {
  let best: number | undefined;
  let nearest = REACH;
  for (const key of row.keys) {
    if (!key.own) continue;
    const away = Math.abs(middleOf(scale, key.time) - x);
    if (away <= nearest) {
      nearest = away;
      best = key.time;
    }
  }
  return best;
}

interface Sheet {
  readonly length: number;
  readonly isCycle: boolean;
  /** From here on the keys follow the first half. */
  readonly half: number | null;
  readonly joints: readonly string[];
  readonly isChosen: (row: SheetRow, time: number) => boolean;
}

function paintRows(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  rows: readonly SheetRow[],
  scale: Scale,
  scrolled: number,
  sheet: Sheet,
): void {
  context.fillStyle = SHEET;
  context.fillRect(0, 0, width, height);
  const chosen = new Set(sheet.joints);
  const first = Math.floor(scrolled / ROW);
  const last = Math.min(rows.length - 1, Math.floor((scrolled + height) / ROW));
  const end = xOf(scale, sheet.length);
  if (sheet.half !== null) {
    context.fillStyle = PAPER;
    context.fillRect(xOf(scale, sheet.half), 0, end - xOf(scale, sheet.half), height);
  }
  context.textBaseline = 'middle';
  for (let place = first; place <= last; place++) {
    const row = rows[place];
    const top = place * ROW - scrolled;
    const isChosen = row.kind !== 'all' && row.joints.every((joint) => chosen.has(joint));
    if (isChosen && row.kind === 'joint') {
      context.fillStyle = LAMP_WASH;
      context.fillRect(0, top, width, ROW);
    } else if (row.kind !== 'joint') {
      context.fillStyle = PAPER;
      context.fillRect(0, top, LABEL_WIDTH, ROW);
    }
    context.fillStyle = RULE_SOFT;
    context.fillRect(0, top + ROW - 1, width, 1);
    paintLabel(context, row, top, isChosen);
    paintKeys(context, row, top, scale, sheet);
  }
  context.fillStyle = RULE_SOFT;
  context.fillRect(LABEL_WIDTH - 1, 0, 1, height);
  if (sheet.isCycle) paintSeam(context, end, height);
}

function paintLabel(
  context: CanvasRenderingContext2D,
  row: SheetRow,
  top: number,
  isChosen: boolean,
): void {
  const middle = top + ROW / 2;
  const isJoint = row.kind === 'joint';
  context.font = `${isJoint && !isChosen ? 400 : 500} 11.5px "Spline Sans", sans-serif`;
  context.fillStyle = INK;
  const left = isJoint ? 24 : row.kind === 'part' ? 22 : 10;
  context.fillText(row.label, left, middle + 0.5, LABEL_WIDTH - left - 26);
  if (row.kind === 'part') {
    context.beginPath();
    if (row.folded) {
      context.moveTo(9, middle - 4);
      context.lineTo(14, middle);
      context.lineTo(9, middle + 4);
    } else {
      context.moveTo(7, middle - 2);
      context.lineTo(11, middle + 3);
      context.lineTo(15, middle - 2);
    }
    context.strokeStyle = GRAPHITE;
    context.lineWidth = 1.4;
    context.stroke();
  }
  if (row.side === 'middle') return;
  // Left is solid, right is hatched.
  context.fillStyle = row.side === 'left' ? PENCIL_BLUE : PENCIL_RED;
  if (row.side === 'left') context.fillRect(LABEL_WIDTH - 22, middle - 2.5, 13, 5);
  else {
    context.lineWidth = 1;
    context.strokeStyle = PENCIL_RED;
    context.strokeRect(LABEL_WIDTH - 21.5, middle - 2, 12, 4);
    context.beginPath();
    for (let x = LABEL_WIDTH - 20; x < LABEL_WIDTH - 9; x += 4) {
      context.moveTo(x, middle + 2);
      context.lineTo(x + 2, middle - 2);
    }
    context.stroke();
  }
}

function paintKeys(
  context: CanvasRenderingContext2D,
  row: SheetRow,
  top: number,
  scale: Scale,
  sheet: Sheet,
): void {
  const summary = row.kind !== 'joint';
  for (let k = 0; k < row.keys.length; k++) {
    const key = row.keys[k];
    if (key.time > sheet.length) break;
    const x = middleOf(scale, key.time);
    if (x < LABEL_WIDTH && !key.holds) continue;
    if (x > scale.width) break;
    const follows = !key.own;
    const isChosen = key.own && sheet.isChosen(row, key.time);
    if (key.holds) {
      const until = row.keys[k + 1]?.time ?? sheet.length;
      context.fillStyle = follows ? RULE_STRONG : INK;
      const from = Math.max(x, LABEL_WIDTH);
      context.fillRect(from, top + ROW - 5, middleOf(scale, until) - from - 2, 3);
    }
    if (x < LABEL_WIDTH) continue;
    if (isChosen) {
      context.fillStyle = AMBER;
      context.fillRect(x - 3.5, top + 2, 7, ROW - 5);
    }
    context.fillStyle = isChosen ? SHEET : follows ? RULE_STRONG : INK;
    const tall = summary ? 6 : 11;
    const from = top + (summary ? 6 : 3);
    context.fillRect(x - 0.9, from, 1.8, tall);
  }
}

/** A row of small cross-stitches where the cycle's end meets its start. */
function paintSeam(context: CanvasRenderingContext2D, x: number, height: number): void {
  context.strokeStyle = AFTER_TEXT;
  context.lineWidth = 1.1;
  context.beginPath();
  for (let y = 5; y < height; y += 10) {
    context.moveTo(x - 2.5, y - 2.5);
    context.lineTo(x + 2.5, y + 2.5);
    context.moveTo(x + 2.5, y - 2.5);
    context.lineTo(x - 2.5, y + 2.5);
  }
  context.stroke();
}
