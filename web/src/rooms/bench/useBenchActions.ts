import type { Chosen, Clip, ClipEdit, PoseChange } from '../../api/clips';
import { newId } from '../../api/newId';
import { COLOURS } from '../../app/ColourChoice';
import { useNotices } from '../../app/notices';
import { useShortcuts } from '../../app/shortcuts';
import type { Player } from '../../player/player';
import { orbitCamera, VIEWS, type ViewName } from '../../stage/camera';
import type { StageView } from '../../stage/scene';
import { add, scale, type Vec3 } from '../../stage/vector';
import { heightWithin } from '../document/DeskGrip';
import { BENCH_KEYS } from './benchKeys';
import type { BenchMemory } from './benchMemory';
import { favourEdit } from './FavourStrip';
import { copied, copyKeys, pasted } from './keyClipboard';
import { WRITTEN } from './kinds';
import type { Paste } from './PasteSheet';
import { chosenAt, countOf, isUnder, keyFrames, spanOf, under, writtenKeys } from './sheet';
import type { BenchState } from './useBench';
import type { PoseState } from './usePose';

interface Room {
  readonly clip: Clip;
  readonly state: BenchState;
  readonly player: Player;
  readonly memory: BenchMemory;
  readonly keys: Chosen;
  readonly pose: PoseState;
  readonly record: boolean;
  readonly change: (part: Partial<BenchMemory>) => void;
  readonly onView: (part: Partial<StageView>) => void;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onKeys: (keys: Chosen) => void;
  readonly onRecord: (on: boolean) => void;
  readonly onHistory: () => void;
  readonly onSheet: () => void;
  readonly onPrint: () => void;
  readonly onName: () => void;
  readonly onFrameKeys: () => void;
  /** Keys of another figure are to be pasted. */
  readonly onPasteFitted: (paste: Paste) => void;
  /** The chosen beat. */
  readonly beat: string | null;
  readonly onBeat: (beat: string | null) => void;
  readonly onFrameFigure: () => void;
  /** Where a joint is at the playhead, loose or not. */
  readonly where: (joint: number) => Vec3 | null;
}

const NUDGE_DEGREES = 2;
const NUDGE_METRES = 0.01;
const DESK_STEP = 30;

export function useBenchActions(room: Room): void {
  const { clip, state, player, memory, keys, pose, change, onView, onKeys } = room;
  const notices = useNotices();
  const { bench } = clip;
  const { chosen, view } = memory;
  const length = bench.length_frames;
  const names = bench.joints.map((joint) => joint.name);

  const make = (edit: ClipEdit | null) => {
    if (edit && clip.may_change) room.onEdit(edit);
  };
  const flip = (frames: readonly number[], way: 1 | -1) => {
    player.pause();
    const beside = frames.filter((frame) =>
      way < 0 ? frame < player.frame : frame > player.frame,
    );
    const near = way < 0 ? beside.at(-1) : beside[0];
    const round = bench.is_cycle ? (way < 0 ? frames.at(-1) : frames[0]) : undefined;
    const there = near ?? round;
    if (there !== undefined) player.goTo(Math.round(there));
  };
  const step = (frames: number) => {
    player.pause();
    const there = player.frame + frames;
    player.goTo(bench.is_cycle ? (there + length) % length : there);
  };
  const look = (name: ViewName) =>
    onView({ orbit: { ...VIEWS[name], distance: view.orbit.distance } });
  const ghosts = (part: Partial<StageView['ghosts']>) =>
    onView({ ghosts: { ...view.ghosts, ...part } });
  const pick = (place: number) => {
    const name = names[Math.max(0, Math.min(names.length - 1, place))];
    change({ chosen: [name] });
  };
  const here = chosen.length ? names.indexOf(chosen[chosen.length - 1]) : -1;
  const ofChosen = chosen.length ? chosen : names;
  const move = (frames: number) => {
    if (!countOf(keys)) return;
    make({
      kind: 'move_keys',
      chosen: writtenKeys(keys),
      frames,
      ripple: false,
      snap: memory.snap,
    });
  };
  /** What is chosen, or the playhead, and everything that follows. */
  const ripple = (frames: number) => {
    const chosen = countOf(keys)
      ? keys
      : chosenAt(bench, names, (time) => time >= player.frame && time < length);
    if (countOf(chosen))
      make({
        kind: 'move_keys',
        chosen: writtenKeys(chosen),
        frames,
        ripple: true,
        snap: memory.snap,
      });
  };
  const widen = (frames: number) => {
    const span = spanOf(keys);
    if (!span || span[0] === span[1]) return;
    make({ kind: 'widen_keys', chosen: writtenKeys(keys), frames, snap: memory.snap });
  };
  const raise = (way: 1 | -1) => {
    if (!countOf(keys)) return;
    const first = bench.curves.find((curve) => keys[curve.channel]);
    if (!first) return;
    make({ kind: 'shift_values', chosen: writtenKeys(keys), by: way * WRITTEN[first.unit].nudge });
  };
  const spans = (span: 'hold' | 'even' | 'eased' | 'free') => {
    if (countOf(keys)) make({ kind: 'set_spans', chosen: writtenKeys(keys), span });
  };
  const turn = (axis: 'forward' | 'right', degrees: number) => {
    if (here < 0 || !clip.may_change) return;
    const camera = orbitCamera(view.orbit, [0, 0, 0], 100, 100);
    const way: Vec3 = camera[axis];
    player.pause();
    const changed: PoseChange = { kind: 'turn', joint: names[here], axis: [...way], degrees };
    pose.draw(player.frame, changed, true);
  };
  const draw = (x: number, y: number) => {
    if (here < 0 || !clip.may_change) return;
    const camera = orbitCamera(view.orbit, [0, 0, 0], 100, 100);
    const by = add(scale(camera.right, x * NUDGE_METRES), scale(camera.up, y * NUDGE_METRES));
    player.pause();
    const at = room.where(here);
    if (here === 0) pose.draw(player.frame, { kind: 'move_root', by: [...by] }, true);
    else if (!bench.joints[here].reaches || !at) notices.say('Choose a hand, a foot or the root.');
    else {
      const to = add(at, by);
      pose.draw(player.frame, { kind: 'reach', joint: names[here], to: [...to] }, true);
    }
  };
  const copy = (): boolean => {
    const count = copyKeys(bench, keys);
    if (count) notices.say(`${count} ${count === 1 ? 'key' : 'keys'} copied.`);
    return count > 0;
  };
  const chosenBeat = bench.beats.find((beat) => beat.id === room.beat);
  const remove = () => {
    if (!countOf(keys)) {
      if (chosenBeat) make({ kind: 'remove_beat', beat: chosenBeat.id });
      return;
    }
    onKeys({});
    make({ kind: 'delete_keys', chosen: writtenKeys(keys) });
  };
  const paste = (mirrored: boolean) => {
    const held = copied();
    const { frame } = player;
    if (!held) notices.say('Nothing is copied yet.');
    else if (held.figure === bench.figure) make(pasted(held.keys, frame, mirrored, chosen));
    else if (clip.may_change) room.onPasteFitted({ copied: held, frame, mirrored });
  };
  const growDesk = (way: 1 | -1) => {
    const desk = document.querySelector('.bench-desk');
    const room = desk?.parentElement;
    if (!room) return;
    change({ deskHeight: heightWithin(desk.clientHeight + way * DESK_STEP, room.clientHeight) });
  };
  const wish = memory.favour;
  const markBeat = () => {
    if (!clip.may_change) return;
    const span = spanOf(keys);
    const { range } = player.snapshot();
    const frame = player.frame;
    const quarter = Math.min(length, frame + Math.max(1, Math.round(length / 4)));
    const [start, end] = span
      ? [Math.floor(span[0]), Math.min(Math.floor(span[1]) + 1, Math.floor(span[0]) + length)]
      : range
        ? [range.start, range.end]
        : [frame, quarter];
    const beat = newId();
    const colour = COLOURS[(bench.beats.length + 2) % COLOURS.length];
    make({ kind: 'add_beat', beat, name: `Beat ${bench.beats.length + 1}`, colour, start, end });
    room.onBeat(beat);
  };
  const chooseUnder = () => {
    const beat = chosenBeat ?? bench.beats.find((other) => isUnder(other, player.frame));
    if (beat) onKeys(under(bench, chosen, beat));
    else notices.say('No beat is chosen, and none lies under the playhead.');
  };

  useShortcuts(BENCH_KEYS, {
    play: () => player.toggle(),
    playBackwards: () => player.toggle(true),
    back: () => step(-1),
    forward: () => step(1),
    first: () => player.goTo(0),
    last: () => player.goTo(length - 1),
    keyBefore: () => flip(keyFrames(bench), -1),
    keyAfter: () => flip(keyFrames(bench), 1),
    poseBefore: () =>
      flip(
        bench.poses.map((named) => named.frame),
        -1,
      ),
    poseAfter: () =>
      flip(
        bench.poses.map((named) => named.frame),
        1,
      ),
    slower: () => player.shiftSpeed(-1),
    faster: () => player.shiftSpeed(1),
    mode: () =>
      player.setMode(player.snapshot().mode === 'real time' ? 'every frame' : 'real time'),
    loop: () => player.setLoop(!player.snapshot().loop),
    threeQuarter: () => look('Three-quarter'),
    side: () => look('Side'),
    front: () => look('Front'),
    plan: () => look('Plan'),
    frameFigure: room.onFrameFigure,
    ghosts: () => ghosts({ shown: !view.ghosts.shown }),
    ghostKind: () => ghosts({ ofKeys: !view.ghosts.ofKeys }),
    spread: () => ghosts({ spread: !view.ghosts.spread }),
    arcs: () => onView({ arcs: { ...view.arcs, shown: !view.arcs.shown } }),
    joints: () => change({ joints: !memory.joints }),
    inPlace: () => change({ inPlace: !memory.inPlace }),
    taller: () => growDesk(1),
    lowerDesk: () => growDesk(-1),
    tracing: () => change({ tracing: !memory.tracing }),
    counts: () => onView({ counts: !view.counts }),
    jointAbove: () => pick(here < 0 ? 0 : here - 1),
    jointBelow: () => pick(here + 1),
    otherSide: () => {
      const partner = here < 0 ? null : bench.joints[here].partner;
      if (partner) pick(names.indexOf(partner));
    },
    allJoints: () => change({ chosen: names }),
    keysHere: () => onKeys(chosenAt(bench, ofChosen, (time) => time === player.frame)),
    keysOn: () => onKeys(chosenAt(bench, ofChosen, (time) => time >= player.frame)),
    markBeat,
    under: chooseUnder,
    letGo: () => {
      if (pose.loose) pose.drop();
      else if (countOf(keys)) onKeys({});
      else if (room.beat) room.onBeat(null);
      else change({ chosen: [] });
    },
    undo: () => clip.undo && state.undo(),
    redo: () => clip.redo && state.redo(),
    key: () => {
      player.pause();
      if (clip.may_change) pose.key(player.frame, pose.loose ? null : ofChosen, memory.kinds);
    },
    keyAll: () => {
      player.pause();
      if (clip.may_change) pose.key(player.frame, names, memory.kinds);
    },
    record: () => room.onRecord(!room.record),
    bothSides: () => change({ bothSides: !memory.bothSides }),
    turnLeft: () => turn('forward', -NUDGE_DEGREES),
    turnRight: () => turn('forward', NUDGE_DEGREES),
    turnUp: () => turn('right', NUDGE_DEGREES),
    turnDown: () => turn('right', -NUDGE_DEGREES),
    drawLeft: () => draw(-1, 0),
    drawRight: () => draw(1, 0),
    drawUp: () => draw(0, 1),
    drawDown: () => draw(0, -1),
    rest: () => {
      if (here < 0 || !clip.may_change) return;
      player.pause();
      pose.draw(player.frame, { kind: 'rest', joint: names[here] }, true);
    },
    snap: () => change({ snap: !memory.snap }),
    insert: () => make({ kind: 'insert_keys', frame: player.frame, joints: [...ofChosen] }),
    earlier: () => move(-1),
    later: () => move(1),
    rippleEarlier: () => ripple(-1),
    rippleLater: () => ripple(1),
    narrower: () => widen(-1),
    wider: () => widen(1),
    raise: () => raise(1),
    lower: () => raise(-1),
    reverse: () => {
      if (countOf(keys)) make({ kind: 'reverse_keys', chosen: writtenKeys(keys) });
    },
    duplicate: () => {
      if (copyKeys(bench, keys)) paste(false);
    },
    copy: () => void copy(),
    cut: () => {
      if (copy()) remove();
    },
    paste: () => paste(false),
    pasteMirrored: () => paste(true),
    remove,
    hold: () => spans('hold'),
    even: () => spans('even'),
    ease: () => spans('eased'),
    free: () => spans('free'),
    favour: () => document.getElementById('favour')?.focus(),
    favourAgain: () => make(favourEdit(player.frame, chosen, wish)),
    startHere: () => make({ kind: 'turn_dial', frames: player.frame }),
    link: () => make({ kind: 'link_halves', linked: !bench.half_linked }),
    namePose: room.onName,
    frameKeys: room.onFrameKeys,
    history: room.onHistory,
    print: room.onPrint,
    keys: room.onSheet,
  });
}
