import { useRef } from 'react';
import { newId } from '../../api/newId';
import { COLOURS, colourAfter } from '../../app/ColourChoice';
import { useNotices } from '../../app/notices';
import { type Action, SHORTCUTS, useShortcuts } from '../../app/shortcuts';
import { useAhead } from '../../app/useAhead';
import { removedKey } from '../../desk/keyHands';
import type { Window } from '../../desk/scale';
import {
  allStints,
  beatEdges,
  choosing,
  cutsOf,
  findSound,
  findStint,
  fixLaneOf,
  fromPlayhead,
  gapRuleAfter,
  nextOf,
  type Selection,
  soundLaneOf,
  stepsOf,
  stintsOf,
  timedStint,
  under,
} from '../../desk/selection';
import type { LaidHead } from '../../player/laidHead';
import type { Player } from '../../player/player';
import { VIEWS, type ViewName } from '../../stage/camera';
import type { StageView } from '../../stage/scene';
import { duplicateOf, splitAt } from './cards/StintCard';
import { copiedOf, copyStints, pasteAt } from './clipboard';
import type { RoomMemory } from './roomMemory';
import type { Laying } from './useLaying';
import type { Edit, Scene, SceneState } from './useScene';

interface Room {
  readonly scene: Scene;
  readonly state: SceneState;
  readonly player: Player;
  readonly head: LaidHead;
  readonly memory: RoomMemory;
  readonly change: (part: Partial<RoomMemory>) => void;
  readonly onView: (part: Partial<StageView>) => void;
  readonly onFrameFigure: () => void;
  readonly onAboutFoot: () => void;
  readonly onZoom: (factor: number) => void;
  readonly onHistory: () => void;
  readonly onKeys: () => void;
  readonly onSlow: () => void;
  readonly asksToFit: Laying['asks'];
  readonly onSound: () => void;
  readonly onPrint: () => void;
  readonly onPrintAgain: () => void;
}

/** The part of the time that the whole gives way to. */
export const wholeOrPart = ({ window, part }: { window: Window | null; part: Window | null }) =>
  window ? { window: null, part: window } : { window: part };

/** Between two marks, whichever came first: it may have gone round meanwhile. */
const markedOut = (a: number, b: number) => ({ start: Math.min(a, b), end: Math.max(a, b) + 1 });

/** Everything that can be done in the room by keys. */
export function useSceneActions(room: Room): void {
  const notices = useNotices();
  const { scene, state, player, head, memory, change, onView } = room;
  const { desk } = scene;
  const { selection, options, view } = memory;
  const { ripple } = options;
  const mayChange = scene.may_change;
  const edit = (wanted: Edit | null | false | undefined) => {
    if (wanted && mayChange) state.edit(wanted);
  };
  const ahead = useAhead(state.line.waiting > 0);
  const select = (wanted: Selection | null) => change({ selection: wanted });
  const jump = (frames: readonly number[], way: 1 | -1) => {
    head.pause();
    const there = nextOf(frames, head.frame, way);
    if (there !== null) head.goTo(there);
  };
  const look = (name: ViewName) =>
    onView({ through: false, orbit: { ...VIEWS[name], distance: view.orbit.distance } });

  /** What has the focus counts as chosen, when nothing that is chosen has it. */
  const acting = (): readonly string[] => {
    const chosen = stintsOf(selection);
    const focused = document.activeElement?.closest('[data-stint]')?.getAttribute('data-stint');
    return !focused || chosen.includes(focused) ? chosen : [focused];
  };
  const one = () => {
    const ids = acting();
    return ids.length === 1 ? (findStint(desk, ids[0])?.stint ?? null) : null;
  };
  const lane = () => {
    const focused = document.activeElement?.closest('[data-lane]')?.getAttribute('data-lane');
    const id =
      selection?.kind === 'lane'
        ? selection.id
        : (findStint(desk, stintsOf(selection)[0] ?? '')?.lane.id ?? focused);
    return desk.lanes.find((other) => other.id === id) ?? null;
  };
  const chosenBeat = () =>
    selection?.kind === 'beat' ? desk.beats.find((beat) => beat.id === selection.id) : undefined;
  const chosenFix = () =>
    selection?.kind === 'fix'
      ? fixLaneOf(desk, selection)?.fixes?.find((fix) => fix.id === selection.id)
      : undefined;
  const chosenSound = () => findSound(desk, selection);
  const span = () => {
    const beat = chosenBeat();
    if (beat) return { start: beat.start, end: beat.end };
    const heard = chosenSound();
    if (heard) {
      // A sound that keeps its own time lies by played frames; what loops is told by laid ones.
      const { start, end } = heard.sound;
      const laid = (frame: number) => (heard.lane.keeps_own_time ? head.laidAt(frame) : frame);
      return { start: Math.floor(laid(start)), end: Math.ceil(laid(end)) };
    }
    const chosen = allStints(desk).filter((stint) => stintsOf(selection).includes(stint.id));
    if (!chosen.length) return null;
    return {
      start: Math.min(...chosen.map((stint) => stint.start)),
      end: Math.max(...chosen.map((stint) => stint.end)),
    };
  };

  const move = (frames: number) => {
    if (selection?.kind === 'join' && !acting().length) {
      const join = desk.lanes
        .flatMap((row) => [...row.joins, ...row.cuts])
        .find((other) => other.incoming === selection.incoming);
      if (join) {
        const frame = ahead(`cut ${join.incoming}`, join.start, frames);
        edit({ kind: 'move_cut', stint: join.incoming, frame });
      }
      return;
    }
    const beat = chosenBeat();
    if (beat) {
      const start = ahead(`start ${beat.id}`, beat.start, frames);
      const end = ahead(`end ${beat.id}`, beat.end, frames);
      edit({ kind: 'set_beat', beat: beat.id, start, end });
      return;
    }
    const heard = chosenSound();
    if (heard) {
      const { id, start } = heard.sound;
      edit({ kind: 'move_sound', laid: id, start: ahead(`sound ${id}`, start, frames) });
      return;
    }
    const fix = chosenFix();
    if (fix) {
      edit({ kind: 'set_fix', fix: fix.id, at: ahead(`fix ${fix.id}`, fix.at, frames) });
      return;
    }
    const stints = acting();
    if (stints.length) edit({ kind: 'move_stints', stints: [...stints], frames, ripple });
  };
  const trim = (edge: 'start' | 'end', frames: number) => {
    const beat = chosenBeat();
    if (beat) {
      const frame = ahead(`${edge} ${beat.id}`, beat[edge], frames);
      edit({ kind: 'set_beat', beat: beat.id, [edge]: frame });
      return;
    }
    const heard = chosenSound();
    if (heard) {
      const frame = ahead(`${edge} ${heard.sound.id}`, heard.sound[edge], frames);
      edit({ kind: 'trim_sound', laid: heard.sound.id, edge, frame });
      return;
    }
    const stint = one();
    if (!stint) return;
    const frame = ahead(`${edge} ${stint.id}`, stint[edge], frames);
    edit({ kind: 'trim_stint', stint: stint.id, edge, frame, ripple });
  };
  const slip = (frames: number) => {
    const stint = one();
    if (stint) edit({ kind: 'slip_stint', stint: stint.id, source_frames: frames });
  };
  const toLane = (rows: 1 | -1) => {
    const stint = one();
    const from = stint && findStint(desk, stint.id)?.lane;
    if (!stint || !from) return;
    const own = desk.lanes.filter((other) => other.figure === from.figure);
    const goal = own[own.findIndex((other) => other.id === from.id) + rows];
    if (!goal) {
      notices.say(`${from.figure_name} has no lane ${rows < 0 ? 'above' : 'below'} this one.`);
      return;
    }
    edit({ kind: 'move_stint', stint: stint.id, start: stint.start, lane: goal.id, ripple });
  };
  const remove = () => {
    const stints = acting();
    if (stints.length) edit({ kind: 'delete_stints', stints: [...stints], ripple });
    else if (selection?.kind === 'lane') edit({ kind: 'remove_lane', lane: selection.id });
    else if (selection?.kind === 'beat') edit({ kind: 'remove_beat', beat: selection.id });
    else if (selection?.kind === 'camera' && selection.key !== null)
      edit(removedKey(null, selection.key));
    else if (selection?.kind === 'pin')
      edit({ kind: 'remove_pin', stint: selection.stint, pin: selection.pin });
    else if (selection?.kind === 'fix') edit({ kind: 'remove_fix', fix: selection.id });
    else if (selection?.kind === 'figure') edit({ kind: 'remove_figure', figure: selection.id });
    else if (selection?.kind === 'guide')
      edit(
        selection.key === null
          ? { kind: 'remove_guide', guide: selection.id }
          : removedKey(selection.id, selection.key),
      );
    else if (selection?.kind === 'sound') edit({ kind: 'remove_sound', laid: selection.id });
    else if (selection?.kind === 'soundLane')
      edit({ kind: 'remove_sound_lane', lane: selection.id });
  };
  const duplicate = () => {
    const heard = chosenSound();
    if (heard && mayChange) {
      const id = newId();
      edit({ kind: 'duplicate_sound', laid: heard.sound.id, new: id });
      select({ kind: 'sound', id });
      return;
    }
    const stints = acting();
    if (!stints.length || !mayChange) return;
    const wanted = duplicateOf(stints, ripple);
    edit(wanted);
    if (wanted.kind === 'duplicate_stints') select(choosing(wanted.new_stints));
  };
  const copy = (): readonly string[] => {
    const stints = acting();
    const count = copyStints(desk, stints);
    if (count) notices.say(`Copied ${count === 1 ? 'a stint' : `${count} stints`}.`);
    return stints;
  };
  const recolour = () => {
    const stints = acting();
    const first = stints.length ? findStint(desk, stints[0])?.stint : null;
    const beat = chosenBeat();
    const row = selection?.kind === 'lane' ? lane() : null;
    if (first)
      edit({ kind: 'colour_stints', stints: [...stints], colour: colourAfter(first.colour) });
    else if (beat)
      edit({ kind: 'set_beat', beat: beat.id, colour: colourAfter(beat.colour ?? 'ochre') });
    else if (row)
      edit({ kind: 'set_lane', lane: row.id, colour: colourAfter(row.colour ?? 'moss') });
  };
  const rename = () => {
    const id = acting()[0];
    if (id && selection?.kind !== 'stints') select(choosing([id]));
    // The card comes first; its name is the one to write in.
    requestAnimationFrame(() => {
      const field = document.querySelector<HTMLInputElement>('.side [data-name-field]');
      field?.focus();
      field?.select();
    });
  };
  /** While it plays one press marks where a beat begins, and the next one where it ends. */
  const beatFrom = useRef<number | null>(null);
  const addBeat = () => {
    const playing = player.snapshot().playing;
    if (playing && beatFrom.current === null) {
      beatFrom.current = head.frame;
      notices.say(`A beat from ${head.frame + desk.first_frame} on: press B again where it ends.`);
      return;
    }
    const marked = beatFrom.current;
    beatFrom.current = null;
    const { start, end } = (playing && marked !== null && markedOut(marked, head.frame)) ||
      span() || {
        start: head.frame,
        end: Math.min(desk.laid_frames, head.frame + Math.round(desk.frames_per_second)),
      };
    const beat = newId();
    const colour = COLOURS[(desk.beats.length + 2) % COLOURS.length];
    const name = `Beat ${desk.beats.length + 1}`;
    edit({ kind: 'add_beat', beat, name, colour, start, end });
    if (mayChange) select({ kind: 'beat', id: beat });
  };
  const flip = (which: 'muted' | 'soloed' | 'locked' | 'folded') => {
    const row = lane();
    if (row) edit({ kind: 'set_lane', lane: row.id, [which]: !row[which] });
  };

  const actions: Record<Exclude<Action, 'place'>, () => void> = {
    play: () => player.toggle(),
    playBackwards: () => player.toggle(true),
    back: () => player.step(-1),
    forward: () => player.step(1),
    backTen: () => player.step(-10),
    forwardTen: () => player.step(10),
    first: () => player.goTo(0),
    last: () => player.goTo(desk.played_frames - 1),
    cutBefore: () => jump(cutsOf(desk), -1),
    cutAfter: () => jump(cutsOf(desk), 1),
    beatBefore: () => jump(beatEdges(desk), -1),
    beatAfter: () => jump(beatEdges(desk), 1),
    stepBefore: () => jump(stepsOf(desk), -1),
    stepAfter: () => jump(stepsOf(desk), 1),
    slower: () => player.shiftSpeed(-1),
    faster: () => player.shiftSpeed(1),
    mode: () =>
      player.setMode(player.snapshot().mode === 'real time' ? 'every frame' : 'real time'),
    loop: () => player.setLoop(!player.snapshot().loop),
    loopChosen: () => head.setRange(player.snapshot().range ? null : span()),
    whole: () => change(wholeOrPart(memory)),
    nearer: () => room.onZoom(1.5),
    farther: () => room.onZoom(1 / 1.5),
    threeQuarter: () => look('Three-quarter'),
    side: () => look('Side'),
    front: () => look('Front'),
    plan: () => look('Plan'),
    frameFigure: room.onFrameFigure,
    follow: () => onView({ follow: !view.follow }),
    aboutFoot: room.onAboutFoot,
    throughCamera: () => {
      if (desk.camera) onView({ through: !view.through });
      else notices.say('The scene has no camera yet: set one up on the scene’s card.');
    },
    ghosts: () => onView({ ghosts: { ...view.ghosts, shown: !view.ghosts.shown } }),
    arcs: () => onView({ arcs: { ...view.arcs, shown: !view.arcs.shown } }),
    prints: () => onView({ prints: !view.prints }),
    planInset: () => onView({ planInset: !view.planInset }),
    counts: () => onView({ counts: !view.counts }),
    all: () => select(choosing(allStints(desk).map((stint) => stint.id))),
    fromPlayhead: () => select(fromPlayhead(desk, head.frame)),
    under: () => {
      const beat = chosenBeat();
      const [start, end] = beat ? [beat.start, beat.end] : [head.frame, head.frame + 1];
      select(under(desk, start, end));
    },
    letGo: () => select(null),
    undo: () => scene.may_change && (scene.undo || state.line.waiting) && state.undo(),
    redo: () => scene.may_change && (scene.redo || state.line.waiting) && state.redo(),
    split: () => {
      const heard = chosenSound();
      if (heard) {
        const frame = head.on(heard.lane).frame;
        edit({ kind: 'split_sound', laid: heard.sound.id, frame, new: newId() });
        return;
      }
      const stint = one();
      const on = stint && findStint(desk, stint.id)?.lane;
      if (stint && on) edit(splitAt(stint.id, head.on(on).frame));
    },
    duplicate,
    copy: () => void copy(),
    cut: () => {
      const stints = copy();
      if (stints.length) edit({ kind: 'delete_stints', stints: [...stints], ripple });
    },
    paste: () => {
      const onto = lane();
      const wanted = pasteAt((onto ? head.on(onto) : head).frame, onto?.id ?? null, ripple);
      if (!wanted) {
        notices.say('Nothing is copied yet.');
        return;
      }
      const of = copiedOf();
      if (of && mayChange && selection?.kind === 'lane' && room.asksToFit(of, selection.id, wanted))
        return;
      edit(wanted);
      if (mayChange && wanted.kind === 'paste_stints')
        select(choosing(wanted.copies.map((held) => held.stint.id)));
    },
    remove,
    rename,
    earlier: () => move(-1),
    later: () => move(1),
    endEarlier: () => trim('end', -1),
    endLater: () => trim('end', 1),
    startEarlier: () => trim('start', -1),
    startLater: () => trim('start', 1),
    slipBack: () => slip(-1),
    slipOn: () => slip(1),
    laneAbove: () => toLane(-1),
    laneBelow: () => toLane(1),
    nail: () => {
      const stint = one();
      if (stint) edit({ kind: 'nail_stint', stint: stint.id, nailed: !stint.nailed });
    },
    recolour,
    beat: addBeat,
    strands: () => change({ options: { ...options, strands: !options.strands } }),
    sceneStrands: () => change({ options: { ...options, sceneStrands: !options.sceneStrands } }),
    slow: room.onSlow,
    straighten: () => edit({ kind: 'straighten', stint: timedStint(selection), ripple }),
    snap: () => change({ options: { ...options, snap: !options.snap } }),
    ripple: () => change({ options: { ...options, ripple: !options.ripple } }),
    addLane: () => {
      const row = lane();
      const figure = selection?.kind === 'figure' ? selection.id : (row ?? desk.lanes[0])?.figure;
      if (figure) edit({ kind: 'add_lane', figure });
    },
    mute: () => {
      const heard = chosenSound();
      const row = soundLaneOf(desk, selection);
      if (heard) edit({ kind: 'set_sound', laid: heard.sound.id, muted: !heard.sound.muted });
      else if (row) edit({ kind: 'set_sound_lane', lane: row.id, muted: !row.muted });
      else flip('muted');
    },
    sound: room.onSound,
    print: room.onPrint,
    printAgain: room.onPrintAgain,
    solo: () => flip('soloed'),
    lock: () => flip('locked'),
    fold: () => flip('folded'),
    gapRule: () => {
      const row = lane();
      if (row) edit({ kind: 'set_lane', lane: row.id, gap: gapRuleAfter(row.gap) });
    },
    history: room.onHistory,
    keys: room.onKeys,
  };
  useShortcuts(SHORTCUTS, actions);
}
