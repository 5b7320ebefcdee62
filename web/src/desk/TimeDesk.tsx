import {
  type PointerEvent,
  type Ref,
  useEffect,
  useImperativeHandle,
  useRef,
  useState,
} from 'react';
import type { Schemas } from '../api/client';
import type { Player } from '../player/player';
import { type Grip, type LaneActions, LaneRow, type Selection } from './LaneRow';
import { Playhead } from './Playhead';
import { DeskPatterns } from './patterns';
import { Ruler } from './Ruler';
import { fitScale, frameAt, panned, type Scale, zoomed } from './scale';
import { Transport } from './Transport';

type Stint = Schemas['DeskStint'];
type Edit = Schemas['EditWanted']['edit'];

export interface DeskHit {
  readonly lane: string | null;
  readonly frame: number;
}

/** What others may ask of the desk: which lane and frame lie under a point of the screen. */
export interface DeskHandle {
  readonly hit: (clientX: number, clientY: number) => DeskHit | null;
}

interface TimeDeskProps {
  readonly ref: Ref<DeskHandle>;
  readonly desk: Schemas['Desk'];
  readonly player: Player;
  readonly selection: Selection | null;
  readonly target: DeskHit | null;
  readonly mayChange: boolean;
  readonly onSelect: (selection: Selection | null) => void;
  /** Show what an edit would give while it is drawn; null puts things back. */
  readonly onPreview: (edit: Edit | null) => void;
  readonly onEdit: (edit: Edit) => void;
}

const LEAST_LANE = 50;
const MOST_LANE = 92;
const DROP_ROW = 30;
const DRAG_THRESHOLD = 3;

/** The time desk: transport, ruler and lanes. Stints are drawn along it and never computed by it. */
export function TimeDesk(props: TimeDeskProps) {
  const { ref, desk, player, selection, target, mayChange, onSelect, onPreview, onEdit } = props;
  const rows = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 1000, height: 200 });
  const [view, setView] = useState<Scale | null>(null);
  const scale = view && view.width === size.width ? view : fitScale(desk.length_frames, size.width);
  const laneHeight = Math.max(
    LEAST_LANE,
    Math.min(MOST_LANE, (size.height - 24 - DROP_ROW) / Math.max(1, desk.lanes.length)),
  );

  useEffect(() => {
    const element = rows.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const latest = useRef({ scale, length: desk.length_frames });
  latest.current = { scale, length: desk.length_frames };

  useEffect(() => {
    const element = rows.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      const { scale: now, length } = latest.current;
      if (event.ctrlKey || event.metaKey) {
        event.preventDefault();
        const x = event.clientX - element.getBoundingClientRect().left;
        setView(zoomed(now, length, x, 1.0018 ** -event.deltaY));
      } else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        event.preventDefault();
        setView(panned(now, length, event.deltaX || event.deltaY));
      }
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, []);

  useImperativeHandle(ref, () => ({
    hit: (clientX, clientY) => {
      const box = rows.current?.getBoundingClientRect();
      if (!box || clientX < box.left || clientX > box.right) return null;
      if (clientY < box.top || clientY > box.bottom) return null;
      const under = document.elementFromPoint(clientX, clientY)?.closest('[data-lane]');
      const lane = under?.getAttribute('data-lane') ?? null;
      return { lane, frame: frameAt(latest.current.scale, clientX - box.left) };
    },
  }));

  const grab = (event: PointerEvent, stint: Stint, grip: Grip) => {
    event.stopPropagation();
    if (event.button !== 0) return;
    onSelect({ kind: 'stint', id: stint.id });
    if (!mayChange) return;
    const from = event.clientX;
    const held = scale;
    let edit: Edit | null = null;
    const move = (moved: globalThis.PointerEvent) => {
      const pixels = moved.clientX - from;
      if (!edit && Math.abs(pixels) < DRAG_THRESHOLD) return;
      const next = dragged(stint, grip, Math.round(pixels / held.pixelsPerFrame));
      if (edit && JSON.stringify(edit) === JSON.stringify(next)) return;
      edit = next;
      onPreview(edit);
    };
    const finish = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', drop);
      window.removeEventListener('pointercancel', cancel);
      window.removeEventListener('keydown', cancelByKey, true);
    };
    const drop = () => {
      finish();
      if (edit) onEdit(edit);
    };
    const cancel = () => {
      finish();
      onPreview(null);
    };
    const cancelByKey = (pressed: globalThis.KeyboardEvent) => {
      if (pressed.key === 'Escape') cancel();
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', drop);
    window.addEventListener('pointercancel', cancel);
    window.addEventListener('keydown', cancelByKey, true);
  };

  const actions: LaneActions = {
    select: onSelect,
    grab,
    nudge: (stint, grip, frames) => mayChange && onEdit(dragged(stint, grip, frames)),
    remove: (stint) => mayChange && onEdit({ kind: 'delete_stint', stint: stint.id }),
  };

  return (
    <section className="time-desk" aria-label="Time desk">
      <Transport
        player={player}
        firstFrame={desk.first_frame}
        framesPerSecond={desk.frames_per_second}
        onFit={() => setView(null)}
      />
      <div
        className="rows"
        ref={rows}
        onPointerDown={(event) => {
          const onBed = (event.target as Element).classList.contains('lane-bed');
          if (onBed || event.target === event.currentTarget) onSelect(null);
        }}
      >
        <svg width="0" height="0" aria-hidden="true" className="position-absolute">
          <DeskPatterns />
        </svg>
        <Ruler
          scale={scale}
          length={desk.length_frames}
          firstFrame={desk.first_frame}
          onScrub={(frame) => {
            player.pause();
            player.goTo(frame);
          }}
        />
        {desk.lanes.map((lane) => (
          <LaneRow
            key={lane.id}
            lane={lane}
            scale={scale}
            height={laneHeight}
            firstFrame={desk.first_frame}
            selection={selection}
            isTarget={target?.lane === lane.id}
            actions={actions}
          />
        ))}
        {mayChange && <DropRow scale={scale} isTarget={target !== null && target.lane === null} />}
      </div>
      <Playhead player={player} scale={scale} firstFrame={desk.first_frame} />
    </section>
  );
}

/** What drawing a stint by so many frames asks for. */
function dragged(stint: Stint, grip: Grip, frames: number): Edit {
  if (grip === 'body') {
    return { kind: 'move_stint', stint: stint.id, start: stint.start + frames };
  }
  const edge = grip === 'start' ? stint.start : stint.end;
  return { kind: 'trim_stint', stint: stint.id, edge: grip, frame: edge + frames };
}

function DropRow({ scale, isTarget }: { scale: Scale; isTarget: boolean }) {
  return (
    <svg width={scale.width} height={DROP_ROW} aria-hidden="true">
      <rect
        className={`lane-bed ${isTarget ? 'is-target' : ''}`}
        width={scale.width}
        height={DROP_ROW}
        fill="transparent"
      />
      <text className="desk-label is-sub" x={132} y={DROP_ROW / 2 + 4}>
        Drop a clip here to give its figure a lane
      </text>
    </svg>
  );
}
