/** What is done to sounds on the desk by hand. */

import type { PointerEvent } from 'react';
import type { Schemas } from '../../api/client';
import { type Drawn, drawing } from '../drawn';
import type { Selection, Sound, SoundLane } from '../selection';
import { catches, caught } from '../snapping';

export type SoundGrip = 'body' | 'start' | 'end' | 'fadeIn' | 'fadeOut';
type Edit = Schemas['EditWanted']['edit'];

export interface SoundActions {
  readonly chooseLane: (lane: SoundLane) => void;
  readonly choose: (sound: Sound) => void;
  readonly muteLane: (lane: SoundLane) => void;
  readonly grab: (event: PointerEvent, lane: SoundLane, sound: Sound, grip: SoundGrip) => void;
}

interface Latest extends Drawn {
  readonly mayChange: boolean;
  readonly onSelect: (selection: Selection | null) => void;
}

const laneUnder = (x: number, y: number): string | null =>
  document.elementFromPoint(x, y)?.closest('[data-sound-lane]')?.getAttribute('data-sound-lane') ??
  null;

/** Where things of a scene lie on a lane’s own ruler, to be caught on. */
function catchesOn({ desk, head }: Latest, lane: SoundLane, sound: Sound): number[] {
  const laid = catches(desk, head.frame, new Set());
  const own = lane.keeps_own_time ? laid.map((at) => head.playedAt(at)) : laid;
  const others = desk.sound_lanes
    .filter((other) => other.keeps_own_time === lane.keeps_own_time)
    .flatMap((other) => other.sounds)
    .filter((other) => other.id !== sound.id)
    .flatMap(({ start, end }) => [start, end]);
  return [...own, ...others];
}

export function soundHands(now: () => Latest): SoundActions {
  const { drawEdit } = drawing(now);
  const choose = (sound: Sound) => now().onSelect({ kind: 'sound', id: sound.id });

  /** A moment as drawn: whole frames and catches; with Alt where the hand is, to the sample. */
  const moment = (at: number, free: boolean, lane: SoundLane, sound: Sound): number => {
    if (free) return at;
    const { options, scale } = now();
    const points = options.snap ? catchesOn(now(), lane, sound) : [];
    return caught(at, points, scale.pixelsPerFrame);
  };

  const drawnTo = (
    lane: SoundLane,
    sound: Sound,
    grip: SoundGrip,
    frames: number,
    moved: globalThis.PointerEvent,
  ): Edit => {
    const perSecond = now().desk.frames_per_second;
    const laid = sound.id;
    const free = moved.altKey;
    if (grip === 'fadeIn') {
      const wanted = sound.fade_in_seconds + frames / perSecond;
      return { kind: 'set_sound', laid, fade_in_seconds: within(wanted, sound.seconds) };
    }
    if (grip === 'fadeOut') {
      const wanted = sound.fade_out_seconds - frames / perSecond;
      return { kind: 'set_sound', laid, fade_out_seconds: within(wanted, sound.seconds) };
    }
    if (grip !== 'body') {
      const frame = moment(sound[grip] + frames, free, lane, sound);
      return { kind: 'trim_sound', laid, edge: grip, frame };
    }
    const under = laneUnder(moved.clientX, moved.clientY);
    const goal = now().desk.sound_lanes.find((other) => other.id === under);
    const start = Math.max(0, moment(sound.start + frames, free, lane, sound));
    return { kind: 'move_sound', laid, start, lane: goal?.id ?? null };
  };

  return {
    chooseLane: (lane) => now().onSelect({ kind: 'soundLane', id: lane.id }),
    choose,
    muteLane: (lane) => now().onEdit({ kind: 'set_sound_lane', lane: lane.id, muted: !lane.muted }),
    grab: (event, lane, sound, grip) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      choose(sound);
      if (!now().mayChange) return;
      const { pixelsPerFrame } = now().scale;
      drawEdit(event, (dx, _dy, moved) => drawnTo(lane, sound, grip, dx / pixelsPerFrame, moved));
    },
  };
}

const within = (seconds: number, most: number): number => Math.max(0, Math.min(most, seconds));
