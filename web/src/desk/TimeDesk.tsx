import {
  type CSSProperties,
  Fragment,
  type PointerEvent,
  type Ref,
  useEffect,
  useImperativeHandle,
  useMemo,
  useRef,
  useState,
} from 'react';
import type { Schemas } from '../api/client';
import { startDraw } from '../app/drawing';
import type { LaidHead } from '../player/laidHead';
import type { Player } from '../player/player';
import type { SoundTrack } from '../player/sound/soundTrack';
import { type BeatGrip, BeatRow, drawnBeat } from './BeatRow';
import type { Checks } from './CheckStrip';
import { drawing } from './drawn';
import type { Fix, FixGrip } from './FixMarks';
import { KEYS_HEIGHT, KeysRow } from './KeysRow';
import { keyHands } from './keyHands';
import { type Grip, type LaneActions, LaneRow } from './LaneRow';
import { OwnTimeMark } from './OwnTimeMark';
import { Playhead } from './Playhead';
import { DeskPatterns } from './patterns';
import { Ruler } from './Ruler';
import {
  frameAt,
  LABEL_WIDTH,
  panned,
  type Scale,
  scaleOf,
  showing,
  type Window,
  windowOf,
  xOf,
  zoomed,
} from './scale';
import { choosing, fixLaneOf, gapRuleAfter, type Selection, stintsOf, toggled } from './selection';
import { SOUND_HEIGHT, SoundRow } from './sound/SoundRow';
import { soundHands } from './sound/soundHands';
import { type Strands, stripHeight } from './strands/picture';
import { StrandsStrip } from './strands/StrandsStrip';
import { strandHands } from './strands/strandHands';
import { type DeskOptions, Transport } from './Transport';

type Desk = Schemas['Desk'];
type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];
type Beat = Schemas['Beat'];
type Edit = Schemas['EditWanted']['edit'];

export interface DeskHit {
  readonly lane: string | null;
  readonly soundLane: string | null;
  readonly frame: number;
}

/** What others may ask of the desk. */
export interface DeskHandle {
  /** Which lane and frame lie under a point of the screen. */
  readonly hit: (clientX: number, clientY: number) => DeskHit | null;
  /** See a frame that lies outside the window. */
  readonly show: (frame: number) => void;
  /** Nearer (above 1) or farther, about the playhead. */
  readonly zoom: (factor: number) => void;
}

interface TimeDeskProps {
  readonly ref: Ref<DeskHandle>;
  readonly desk: Desk;
  readonly player: Player;
  readonly track: SoundTrack;
  /** The playhead by the laid ruler, on which the lanes lie. */
  readonly head: LaidHead;
  /** The elastics that are unfolded: the scene’s, and a stint’s under its lane. */
  readonly sceneStrands: Strands | null;
  readonly stintStrands: { readonly stint: string; readonly strands: Strands } | null;
  readonly selection: Selection | null;
  readonly target: DeskHit | null;
  readonly checks: Checks;
  readonly mayChange: boolean;
  /** An edit is on its way. */
  readonly isSaving: boolean;
  readonly options: DeskOptions;
  readonly onOptions: (options: DeskOptions) => void;
  readonly window: Window | null;
  readonly onWindow: (window: Window | null) => void;
  readonly hasPart: boolean;
  readonly onWhole: () => void;
  readonly onSelect: (selection: Selection | null) => void;
  /** Show what an edit would give while it is drawn; null puts things back. */
  readonly onPreview: (edit: Edit | null) => void;
  readonly onEdit: (edit: Edit) => void;
}

const LEAST_LANE = 46;
const MOST_LANE = 92;
const FOLDED_LANE = 24;
const DROP_ROW = 30;
const HEAD_ROWS = 34 + 22;
const NO_STINTS: readonly string[] = [];

/** The time desk: transport, ruler, beats and lanes. Stints are drawn along it, never computed. */
export function TimeDesk(props: TimeDeskProps) {
  const { ref, desk, player, head, selection, target, mayChange, options, onSelect } = props;
  const rows = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 1000, height: 200 });
  const [box, setBox] = useState<Box | null>(null);
  const [scrolled, setScrolled] = useState(0);
  const length = lengthOf(desk);
  const scale = useMemo(
    () => scaleOf(props.window, length, size.width),
    [props.window, length, size.width],
  );
  const open = desk.lanes.filter((lane) => !lane.folded).length;
  const low =
    FOLDED_LANE * (desk.lanes.length - open) +
    SOUND_HEIGHT * desk.sound_lanes.length +
    KEYS_HEIGHT * keyedRows(desk).length;
  const topHeight = HEAD_ROWS + (props.sceneStrands ? stripHeight(true) : 0);
  const unfoldedHeight = props.stintStrands ? stripHeight(false) : 0;
  const room = size.height - topHeight - unfoldedHeight - DROP_ROW - low;
  const laneHeight = Math.max(
    LEAST_LANE,
    Math.min(MOST_LANE, Math.floor(room / Math.max(1, open))),
  );

  const heightOf = (lane: Lane) => (lane.folded ? FOLDED_LANE : laneHeight);
  const rowOf = (lane: Lane) =>
    heightOf(lane) + (unfoldedOn(lane, props.stintStrands) ? stripHeight(false) : 0);
  const inSight = lanesInSight(desk.lanes.map(rowOf), scrolled, size.height);

  useEffect(() => {
    const element = rows.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  const latest = useRef({ ...props, scale });
  latest.current = { ...props, scale };

  useEffect(() => {
    const element = rows.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      const { scale: now, desk: seen, onWindow } = latest.current;
      const frames = lengthOf(seen);
      if (event.ctrlKey || event.metaKey) {
        event.preventDefault();
        const x = event.clientX - element.getBoundingClientRect().left;
        onWindow(windowOf(zoomed(now, frames, x, 1.0018 ** -event.deltaY), frames));
      } else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
        event.preventDefault();
        onWindow(windowOf(panned(now, frames, event.deltaX || event.deltaY), frames));
      }
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, []);

  useImperativeHandle(ref, () => ({
    hit: (clientX, clientY) => {
      const area = rows.current?.getBoundingClientRect();
      if (!area || clientX < area.left || clientX > area.right) return null;
      if (clientY < area.top || clientY > area.bottom) return null;
      const frame = frameAt(latest.current.scale, clientX - area.left);
      const under = (kind: 'lane' | 'sound-lane') => rowUnder(kind, clientX, clientY);
      return { lane: under('lane'), soundLane: under('sound-lane'), frame };
    },
    show: (frame) => {
      const { scale: now, onWindow, desk: seen } = latest.current;
      const moved = showing(now, lengthOf(seen), frame);
      if (moved !== now) onWindow(windowOf(moved, lengthOf(seen)));
    },
    zoom: (factor) => {
      const { scale: now, onWindow, desk: seen } = latest.current;
      const x = xOf(now, head.frame + 0.5);
      onWindow(windowOf(zoomed(now, lengthOf(seen), x, factor), lengthOf(seen)));
    },
  }));

  const actions = useMemo(() => deskActions(() => latest.current), []);
  const strandActions = useMemo(() => strandHands(() => latest.current), []);
  const keyActions = useMemo(() => keyHands(() => latest.current), []);
  const soundActions = useMemo(() => soundHands(() => latest.current), []);
  const chosenPinOf = (of: string | null) =>
    selection?.kind === 'pin' && selection.stint === of ? selection.pin : null;

  const drawBox = (event: PointerEvent<HTMLDivElement>) => {
    const onBed = (event.target as Element).classList.contains('lane-bed');
    if (event.button !== 0 || (!onBed && event.target !== event.currentTarget)) return;
    const element = event.currentTarget;
    const area = element.getBoundingClientRect();
    const from = { x: event.clientX, y: event.clientY };
    const adding = event.shiftKey ? stintsOf(selection) : NO_STINTS;
    const boxTo = (to: globalThis.PointerEvent): Box => ({
      left: Math.min(from.x, to.clientX) - area.left,
      top: Math.min(from.y, to.clientY) - area.top + element.scrollTop,
      width: Math.abs(to.clientX - from.x),
      height: Math.abs(to.clientY - from.y),
    });
    startDraw(from.x, from.y, {
      onMove: (_dx, _dy, moved) => setBox(boxTo(moved)),
      onDrop: (_dx, _dy, dropped) => {
        setBox(null);
        const caught = stintsIn(element, from, { x: dropped.clientX, y: dropped.clientY });
        onSelect(choosing([...new Set([...adding, ...caught])]));
      },
      onPress: () => onSelect(null),
      onCancel: () => setBox(null),
    });
  };

  return (
    <section className="time-desk" aria-label="Time desk">
      <Transport
        player={player}
        track={props.track}
        head={head}
        desk={desk}
        options={options}
        isWhole={props.window === null}
        hasPart={props.hasPart}
        onOptions={props.onOptions}
        onWhole={props.onWhole}
      />
      <div
        className="rows"
        ref={rows}
        onPointerDown={drawBox}
        onScroll={(event) =>
          setScrolled(Math.floor(event.currentTarget.scrollTop / FOLDED_LANE) * FOLDED_LANE)
        }
      >
        <svg width="0" height="0" aria-hidden="true" className="position-absolute">
          <DeskPatterns />
        </svg>
        {/* The flag stands over the rulers, the line among the rows: a stint's strands lie over it, where it
            bends. */}
        {[true, false].map((isFlag) => (
          <div
            key={String(isFlag)}
            className={`playhead-layer ${isFlag ? 'is-flag' : 'is-line'}`}
            style={{ '--layer-height': `${isFlag ? topHeight : size.height}px` } as CSSProperties}
          >
            <Playhead
              player={player}
              head={head}
              scale={scale}
              firstFrame={desk.first_frame}
              bends={props.sceneStrands !== null}
            />
          </div>
        ))}
        <div className="desk-top">
          <Ruler
            scale={scale}
            length={length}
            firstFrame={desk.first_frame}
            framesPerSecond={desk.frames_per_second}
            player={player}
            head={props.sceneStrands ? null : head}
            shows={options.ruler}
          />
          <button
            type="button"
            className="time-fold"
            aria-expanded={options.sceneStrands}
            title="The time of the whole scene, unfolded (Shift+Z)"
            onClick={() => props.onOptions({ ...options, sceneStrands: !options.sceneStrands })}
          >
            <i
              className={`bi bi-chevron-${options.sceneStrands ? 'down' : 'right'}`}
              aria-hidden="true"
            />
            {desk.laid === null ? 'Time as laid' : 'Time bent'}
          </button>
          {props.sceneStrands && (
            <StrandsStrip
              strands={props.sceneStrands}
              scale={scale}
              of={null}
              name="the scene"
              colour="var(--plum)"
              firstPlayed={desk.first_frame}
              firstSource={desk.first_frame}
              chosenPin={chosenPinOf(null)}
              head={head}
              mayChange={mayChange}
              actions={strandActions}
            />
          )}
          <BeatRow
            beats={desk.beats}
            scale={scale}
            firstFrame={desk.first_frame}
            chosen={selection?.kind === 'beat' ? selection.id : null}
            hint={
              mayChange ? 'B marks a beat at the playhead: a part of the action to find again' : ''
            }
            onChoose={(beat) => onSelect({ kind: 'beat', id: beat })}
            onGrab={actions.grabBeat}
            isSaving={props.isSaving}
            onNudge={actions.nudgeBeat}
            onGo={(beat) => head.goTo(beat.start)}
          />
        </div>
        {desk.lanes.map((lane, place) => {
          const height = heightOf(lane);
          const unfolded = unfoldedOn(lane, props.stintStrands);
          const isSeen = place >= inSight.first && place <= inSight.last;
          // Far out of sight a lane only keeps its place. The place itself stays in the page: lanes
          // put in and taken out while scrolling would have the browser style every other one anew.
          return (
            <Fragment key={lane.id}>
              <div
                className={`lane ${lane.plays ? '' : 'is-still'}`}
                data-lane={lane.id}
                style={{ height }}
              >
                {isSeen && lane.keeps_own_time && !head.isStraight && (
                  <OwnTimeMark head={head} scale={scale} firstFrame={desk.first_frame} />
                )}
                {isSeen && (
                  <LaneRow
                    lane={lane}
                    scale={scale}
                    height={height}
                    firstFrame={desk.first_frame}
                    chosen={chosenOf(lane, selection)}
                    chosenJoin={selection?.kind === 'join' ? selection.incoming : null}
                    chosenFix={selection?.kind === 'fix' ? selection.id : null}
                    isChosen={selection?.kind === 'lane' && selection.id === lane.id}
                    isTarget={target?.lane === lane.id}
                    mayChange={mayChange}
                    marks={props.checks.get(lane.id)}
                    actions={actions}
                  />
                )}
              </div>
              {unfolded && (
                <StrandsStrip
                  strands={unfolded.strands}
                  exposed={unfolded.stint.exposed}
                  scale={scale}
                  of={unfolded.stint.id}
                  name={unfolded.stint.name}
                  colour={`var(--${unfolded.stint.colour})`}
                  firstPlayed={desk.first_frame}
                  firstSource={0}
                  chosenPin={chosenPinOf(unfolded.stint.id)}
                  head={head}
                  mayChange={mayChange && !lane.locked}
                  actions={strandActions}
                />
              )}
            </Fragment>
          );
        })}
        {desk.sound_lanes.map((lane) => (
          <SoundRow
            key={lane.id}
            lane={lane}
            scale={scale}
            firstFrame={desk.first_frame}
            framesPerSecond={desk.frames_per_second}
            chosen={selection?.kind === 'sound' ? selection.id : null}
            isChosen={selection?.kind === 'soundLane' && selection.id === lane.id}
            isTarget={target?.soundLane === lane.id}
            mayChange={mayChange}
            head={head}
            actions={soundActions}
          />
        ))}
        {keyedRows(desk).map(({ of, name, row }) => (
          <KeysRow
            key={of ?? 'camera'}
            of={of}
            name={name}
            row={row}
            scale={scale}
            firstFrame={desk.first_frame}
            head={head}
            isChosen={keysChosen(selection, of) !== undefined}
            chosenKey={keysChosen(selection, of) ?? null}
            mayChange={mayChange}
            actions={keyActions}
          />
        ))}
        {mayChange && (
          <DropRow
            scale={scale}
            isTarget={target !== null && target.lane === null && target.soundLane === null}
          />
        )}
        {box && <div className="choose-box" style={box} />}
      </div>
    </section>
  );
}

/** What is keyed as a whole: guides, and the camera under all. */
const keyedRows = (desk: Desk) => [
  ...desk.guides.map((guide) => ({ of: guide.id, name: guide.name, row: guide })),
  ...(desk.camera ? [{ of: null, name: 'Camera', row: desk.camera }] : []),
];

/** The chosen key of a row, none where all of it is chosen; undefined where nothing of it is. */
function keysChosen(selection: Selection | null, of: string | null): number | null | undefined {
  if (selection?.kind === 'camera') return of === null ? selection.key : undefined;
  return selection?.kind === 'guide' && selection.id === of ? selection.key : undefined;
}

/** How much time the desk shows: both rulers have one measure. */
const lengthOf = (desk: Desk): number => Math.max(desk.laid_frames, desk.played_frames);

/** The stint of a lane whose strands are unfolded under it. */
function unfoldedOn(lane: Lane, open: TimeDeskProps['stintStrands']) {
  const stint = open && lane.stints.find((other) => other.id === open.stint);
  return stint ? { stint, strands: open.strands } : null;
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

const LANES_BEYOND = 2;

/** The lanes that are seen, and a few on either side, so that keys can walk on to them. */
export function lanesInSight(heights: readonly number[], scrolled: number, height: number) {
  let top = 0;
  let first = heights.length;
  let last = -1;
  for (const [place, own] of heights.entries()) {
    const seen = top + own > scrolled && top < scrolled + height;
    if (seen) first = Math.min(first, place);
    if (seen) last = place;
    top += own;
  }
  return { first: first - LANES_BEYOND, last: last + LANES_BEYOND };
}

/** The chosen stints of one lane; the same empty list for all others, so that they stay as drawn. */
function chosenOf(lane: Lane, selection: Selection | null): readonly string[] {
  const ids = stintsOf(selection);
  if (!ids.length || !lane.stints.some((stint) => ids.includes(stint.id))) return NO_STINTS;
  return ids;
}

/** The row of a kind under a point of the screen. */
const rowUnder = (kind: 'lane' | 'sound-lane', x: number, y: number): string | null =>
  document.elementFromPoint(x, y)?.closest(`[data-${kind}]`)?.getAttribute(`data-${kind}`) ?? null;
const laneUnder = (x: number, y: number): string | null => rowUnder('lane', x, y);

/** Stints whose drawn cards a box touches. */
function stintsIn(
  element: HTMLElement,
  a: { x: number; y: number },
  b: { x: number; y: number },
): string[] {
  const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
  const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
  return [...element.querySelectorAll('[data-stint]')].flatMap((card) => {
    const at = card.querySelector('.card')?.getBoundingClientRect();
    const touches = at && at.left < right && at.right > left && at.top < bottom && at.bottom > top;
    return touches ? [card.getAttribute('data-stint') ?? ''] : [];
  });
}

type Latest = TimeDeskProps & { readonly scale: Scale };

interface DeskActions extends LaneActions {
  readonly grabBeat: (event: PointerEvent, beat: Beat, grip: BeatGrip) => void;
  readonly nudgeBeat: (edit: Edit) => void;
}

/** What is done on the desk by hand. Made once: it reads what is on the desk when it is needed. */
function deskActions(now: () => Latest): DeskActions {
  const { shiftOf, drawEdit } = drawing(now);

  /** Bring the playhead to a join that it is not in. */
  const seeJoin = (lane: Lane, { start, end }: Schemas['DeskJoin']) => {
    const head = now().head.on(lane);
    if (head.snapshot().playing || (head.frame >= start && head.frame < end)) return;
    head.goTo(Math.floor((start + end) / 2));
  };

  const seeFix = (fix: Fix) => {
    const lane = fixLaneOf(now().desk, { kind: 'fix', id: fix.id });
    (lane ? now().head.on(lane) : now().head).goTo(fix.at);
  };

  return {
    choose: (lane) => now().onSelect({ kind: 'lane', id: lane.id }),
    flip: (lane, which) => now().onEdit({ kind: 'set_lane', lane: lane.id, [which]: !lane[which] }),
    shift: (lane, rows) => {
      const place = now().desk.lanes.findIndex((other) => other.id === lane.id) + rows;
      if (place >= 0 && place < now().desk.lanes.length)
        now().onEdit({ kind: 'move_lane', lane: lane.id, place });
    },
    grab: (event, lane) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      const choose = () => now().onSelect({ kind: 'lane', id: lane.id });
      if (!now().mayChange) {
        choose();
        return;
      }
      drawEdit(
        event,
        (_dx, _dy, moved) => {
          const under = laneUnder(moved.clientX, moved.clientY);
          const place = now().desk.lanes.findIndex((other) => other.id === under);
          return place < 0 || under === lane.id
            ? null
            : { kind: 'move_lane', lane: lane.id, place };
        },
        choose,
      );
    },
    pick: (stint, adding) => {
      const { selection, onSelect } = now();
      onSelect(adding ? toggled(selection, stint.id) : choosing([stint.id]));
    },
    grabStint: (event, lane, stint, grip) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      const { selection, onSelect, mayChange, options } = now();
      const chosen = stintsOf(selection);
      if (event.shiftKey) {
        onSelect(toggled(selection, stint.id));
        return;
      }
      const several = grip === 'body' && chosen.length > 1 && chosen.includes(stint.id);
      if (!several) onSelect(choosing([stint.id]));
      if (!mayChange) return;
      const { ripple } = options;
      const settle = () => several && onSelect(choosing([stint.id]));
      if (several) {
        const moving = new Set(chosen);
        const edges = now()
          .desk.lanes.flatMap((row) => row.stints.filter((other) => moving.has(other.id)))
          .flatMap((other) => [other.start, other.end]);
        drawEdit(
          event,
          (dx, _dy, moved) => {
            const frames = shiftOf(dx, moved, edges, moving);
            return frames ? { kind: 'move_stints', stints: [...chosen], frames, ripple } : null;
          },
          settle,
        );
        return;
      }
      drawEdit(event, (dx, _dy, moved) => {
        const edges = grip === 'body' ? [stint.start, stint.end] : [edgeOf(stint, grip)];
        const frames = shiftOf(dx, moved, edges, new Set([stint.id]), now().head.on(lane));
        return drawnStint(now().desk, lane, stint, grip, frames, moved, ripple);
      });
    },
    pickJoin: (lane, join) => {
      now().onSelect({ kind: 'join', incoming: join.incoming });
      seeJoin(lane, join);
    },
    grabJoin: (event, lane, join) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      now().onSelect({ kind: 'join', incoming: join.incoming });
      seeJoin(lane, join);
      if (!now().mayChange) return;
      drawEdit(event, (dx, _dy, moved) => {
        const moving = new Set([join.incoming, join.outgoing]);
        const frames = shiftOf(dx, moved, [join.start, join.end], moving, now().head.on(lane));
        return { kind: 'move_cut', stint: join.incoming, frame: join.start + frames };
      });
    },
    pickFix: (fix) => {
      now().onSelect({ kind: 'fix', id: fix.id });
      seeFix(fix);
    },
    grabFix: (event, fix, grip) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      now().onSelect({ kind: 'fix', id: fix.id });
      const see = () => seeFix(fix);
      if (!now().mayChange) {
        see();
        return;
      }
      const edge = { body: fix.at, start: fix.start, end: fix.end }[grip];
      drawEdit(
        event,
        (dx, _dy, moved) => {
          const frames = shiftOf(dx, moved, [edge], new Set());
          return frames ? drawnFix(fix, grip, frames) : null;
        },
        see,
      );
    },
    nextGapRule: (lane, gap) => {
      const rule = gapRuleAfter(gap.rule);
      now().onEdit(
        gap.after === null
          ? { kind: 'set_lane', lane: lane.id, gap: rule }
          : { kind: 'set_gap', stint: gap.after, gap: rule },
      );
    },
    goTo: (lane, frame) => {
      now().head.pause();
      now().head.on(lane).goTo(frame);
    },
    grabBeat: (event, beat, grip) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      now().onSelect({ kind: 'beat', id: beat.id });
      if (!now().mayChange) return;
      drawEdit(event, (dx, _dy, moved) => {
        const edges = grip === 'body' ? [beat.start, beat.end] : [beat[grip]];
        return drawnBeat(beat, grip, shiftOf(dx, moved, edges, new Set([beat.id])));
      });
    },
    nudgeBeat: (edit) => {
      if (now().mayChange) now().onEdit(edit);
    },
  };
}

const edgeOf = (stint: Stint, grip: Grip): number => (grip === 'start' ? stint.start : stint.end);

/** What drawing a fix by so many frames asks for: its frame, or how it comes or goes. */
function drawnFix(fix: Fix, grip: FixGrip, frames: number): Edit {
  if (grip === 'body') return { kind: 'set_fix', fix: fix.id, at: fix.at + frames };
  return grip === 'start'
    ? { kind: 'set_fix', fix: fix.id, fade_in: Math.max(0, fix.at - fix.start - frames) }
    : { kind: 'set_fix', fix: fix.id, fade_out: Math.max(0, fix.end - fix.stands_to + frames) };
}

/** What drawing a stint by so many frames asks for; its body may go to another lane. */
function drawnStint(
  desk: Desk,
  lane: Lane,
  stint: Stint,
  grip: Grip,
  frames: number,
  moved: globalThis.PointerEvent,
  ripple: boolean,
): Edit {
  if (grip !== 'body') {
    const frame = edgeOf(stint, grip) + frames;
    return { kind: 'trim_stint', stint: stint.id, edge: grip, frame, ripple };
  }
  const under = laneUnder(moved.clientX, moved.clientY);
  const goal = desk.lanes.find((other) => other.id === under);
  const onto = goal && goal.id !== lane.id && goal.figure === lane.figure ? goal.id : null;
  return {
    kind: 'move_stint',
    stint: stint.id,
    start: stint.start + frames,
    lane: onto,
    ripple,
  };
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
      <text className="desk-label is-sub" x={LABEL_WIDTH + 12} y={DROP_ROW / 2 + 4}>
        Drop a clip here to give its figure a lane, or a sound to hear it
      </text>
    </svg>
  );
}
