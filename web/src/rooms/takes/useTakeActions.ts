import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { newId } from '../../api/newId';
import { keepClips, type TakeEdit, toBench } from '../../api/takes';
import { COLOURS } from '../../app/ColourChoice';
import { counted } from '../../app/counted';
import { useNotices } from '../../app/notices';
import { useShortcuts } from '../../app/shortcuts';
import { VIEWS, type ViewName } from '../../stage/camera';
import { heightWithin } from '../document/DeskGrip';
import { watchJob } from '../library/jobs/useJobs';
import { libraryKey } from '../library/useLibrary';
import type { TakesRoomParts } from './room';
import { isRefused, sourceAt, sourceEnd } from './sources';
import { TAKES_KEYS } from './takesKeys';
import type { TakeState } from './useTake';

interface Options {
  readonly room: TakesRoomParts;
  readonly state: TakeState;
  readonly onHistory: () => void;
  readonly onSheet: () => void;
  readonly onPrint: () => void;
  readonly onRecord: () => void;
  readonly onFrameFigure: () => void;
  readonly onClip: (clip: string) => void;
}

export type Method = 'match' | 'spread' | 'through' | 'overlap';

export interface TakeHands {
  /** The ringed loop as a cycle on the bench, closed by a method. */
  readonly toBench: (method: Method, frames: number) => void;
  readonly keep: () => void;
  readonly cutUp: () => void;
  /** Something of it is under way. */
  readonly isMaking: boolean;
}

const DESK_STEP = 30;
const CLOSE_FRAMES = 6;

/** What can be done in the takes room, by keys and by its buttons. */
export function useTakeActions(options: Options): TakeHands {
  const { room, state, onClip } = options;
  const { take, cleaned, player, memory, change, onView, joints, onJoints, loop, onEdit } = room;
  const notices = useNotices();
  const queries = useQueryClient();
  const [isMaking, setMaking] = useState(false);
  const { view } = memory;

  const making = async (work: () => Promise<void>) => {
    if (isMaking) return;
    setMaking(true);
    try {
      await work();
      await queries.invalidateQueries({ queryKey: libraryKey(take.production) });
    } catch (problem) {
      notices.trouble(problem);
    } finally {
      setMaking(false);
    }
  };
  const bench = (method: Method, frames: number) => {
    if (!loop || !take.may_change) return;
    const step = take.take.recipe.steps.find((one) => one.step === 'thin');
    const thin = step?.step === 'thin' ? step : { degrees: 2, cm: 1 };
    void making(async () => {
      const { from_frame, to_frame } = room.looked;
      const clip = await toBench(take.id, {
        from_frame,
        to_frame,
        quick: false,
        name: `${take.name} ${loop.start}–${loop.end}`,
        start: loop.start,
        end: loop.end,
        method: method === 'overlap' && loop.start < frames ? 'spread' : method,
        frames: Math.max(1, Math.min(frames, Math.floor((loop.end - loop.start) / 2))),
        degrees: thin.degrees,
        cm: thin.cm,
        colour: 'vermilion',
      });
      onClip(clip.id);
    });
  };
  const made = (by_beats: boolean) => {
    if (!take.may_change) return;
    void making(async () => {
      const clips = await keepClips(take.id, { name: null, by_beats, token: newId() });
      if ('state' in clips) {
        watchJob(queries, take.production, clips);
        notices.say(`${take.name} is being cleaned; the library shows how far it is.`);
      } else notices.say(`${counted(clips.length, 'clip')} in the library.`);
    });
  };

  const see = (name: ViewName) =>
    onView({ orbit: { ...VIEWS[name], distance: view.orbit.distance } });
  const at = () => (cleaned ? sourceAt(cleaned, player.frame) : 0);
  const spikes = cleaned?.spikes ?? [];
  const toSpike = (way: 1 | -1) => {
    const beside = spikes.filter(({ at: there }) =>
      way < 0 ? there < player.frame : there > player.frame,
    );
    const found = way < 0 ? beside.at(-1) : beside[0];
    if (found) room.goTo(found.at, found.mark.joint);
    else notices.say('No spike lies there.');
  };
  const refuse = () => {
    const found = spikes.find(({ at: there, by_hand }) => !by_hand && there === player.frame);
    if (found)
      onEdit({ kind: 'refuse_spike', spike: found.mark, refused: !isRefused(take, found.mark) });
    else notices.say('No spike lies at this frame: PageDown goes to the next one.');
  };
  const trim = (part: { start?: number; end?: number }) => {
    const step = take.take.recipe.steps.find((one) => one.step === 'trim');
    if (step?.step !== 'trim') return;
    const set = { ...step, on: true, ...part };
    onEdit({ kind: 'set_step', step: set });
  };
  const paint = (side: 'left' | 'right') => {
    const here = player.frame;
    const stands = cleaned?.plants.find(
      (plant) => plant.side === side && plant.start <= here && here < plant.end,
    );
    const frames = stands ? [stands.take_start, stands.take_end] : aroundHere(here);
    if (!frames) return;
    const mark = { side, start: frames[0], end: frames[1], planted: !stands };
    onEdit({ kind: 'paint_foot', mark });
  };
  /** A quarter of a second from the playhead on, in frames of the take. */
  const aroundHere = (here: number): [number, number] | null => {
    if (!cleaned) return null;
    const last = Math.min(cleaned.frames - 1, here + Math.round(cleaned.frames_per_second / 4));
    return [sourceAt(cleaned, here), sourceEnd(cleaned, last + 1, take.take.length_frames)];
  };
  const markBeat = () => {
    if (!cleaned) return;
    const range = player.snapshot().range ?? {
      start: player.frame,
      end: Math.min(cleaned.frames, player.frame + Math.round(cleaned.frames_per_second)),
    };
    const count = take.take.beats.length;
    onEdit({
      kind: 'add_beat',
      beat: newId(),
      name: `Beat ${count + 1}`,
      colour: COLOURS[count % COLOURS.length],
      start: sourceAt(cleaned, range.start),
      end: sourceEnd(cleaned, range.end, take.take.length_frames),
    });
  };
  const jointBy = (step: number) => {
    const names = cleaned?.joints ?? [];
    const here = Math.max(0, names.indexOf(joints[0]));
    const next = names[(here + step + names.length) % names.length];
    if (next) onJoints([next, ...joints.slice(1)]);
  };
  const worst = () => {
    const loss = cleaned?.losses[0];
    if (loss) room.goTo(loss.degrees_frame, loss.joint);
  };
  const desk = (by: number) => {
    const place = document.querySelector<HTMLElement>('.take-desk');
    const height = (memory.deskHeight ?? place?.clientHeight ?? 260) + by;
    change({ deskHeight: heightWithin(height, place?.parentElement?.clientHeight ?? 600) });
  };
  const may = (edit: () => void) => () => {
    if (take.may_change) edit();
  };

  const edits: Record<string, () => TakeEdit> = {
    circle: () => ({ kind: 'circle_take', circled: !take.take.circled }),
    pin: () => ({
      kind: 'pin_source',
      source: at(),
      played: player.frame + (cleaned?.played_from ?? 0),
      ripple: true,
    }),
    keyHere: () => ({
      kind: 'key_frame',
      frame: at(),
      keyed: !take.take.by_hand.keyed.includes(at()),
    }),
  };
  useShortcuts(TAKES_KEYS, {
    play: () => player.toggle(),
    playBackwards: () => player.toggle(true),
    back: () => player.step(-1),
    forward: () => player.step(1),
    backTen: () => player.step(-10),
    forwardTen: () => player.step(10),
    first: () => player.goTo(0),
    last: () => player.goTo(Number.MAX_SAFE_INTEGER),
    slower: () => player.shiftSpeed(-1),
    faster: () => player.shiftSpeed(1),
    mode: () =>
      player.setMode(player.snapshot().mode === 'real time' ? 'every frame' : 'real time'),
    loop: () => player.setLoop(!player.snapshot().loop),
    threeQuarter: () => see('Three-quarter'),
    side: () => see('Side'),
    front: () => see('Front'),
    plan: () => see('Plan'),
    frameFigure: options.onFrameFigure,
    ghosts: () => onView({ ghosts: { ...view.ghosts, shown: !view.ghosts.shown } }),
    arcs: () => onView({ arcs: { ...view.arcs, shown: !view.arcs.shown } }),
    prints: () => onView({ prints: !view.prints }),
    flip: () => change({ compare: memory.compare === 'captured' ? 'cleaned' : 'captured' }),
    beside: () => change({ compare: memory.compare === 'beside' ? 'under' : 'beside' }),
    worst,
    spikeBefore: () => toSpike(-1),
    spikeAfter: () => toSpike(1),
    refuse: may(refuse),
    jointAbove: () => jointBy(-1),
    jointBelow: () => jointBy(1),
    leftDown: may(() => paint('left')),
    rightDown: may(() => paint('right')),
    pin: may(() => onEdit(edits.pin())),
    keyHere: may(() => onEdit(edits.keyHere())),
    trimStart: may(() => trim({ start: at() })),
    trimEnd: may(() => trim({ end: at() + 1 })),
    markBeat: may(markBeat),
    cutUp: may(() => made(true)),
    findCycle: () => change({ tab: 'cycle' }),
    toBench: () => bench('overlap', CLOSE_FRAMES),
    keep: may(() => made(false)),
    strands: () => change({ strands: !memory.strands }),
    circle: may(() => onEdit(edits.circle())),
    record: may(options.onRecord),
    undo: state.undo,
    redo: state.redo,
    taller: () => desk(DESK_STEP),
    lowerDesk: () => desk(-DESK_STEP),
    history: options.onHistory,
    print: options.onPrint,
    keys: options.onSheet,
  });
  return { toBench: bench, keep: () => made(false), cutUp: () => made(true), isMaking };
}
