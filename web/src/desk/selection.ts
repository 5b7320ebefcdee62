/** What is chosen on the desk: one kind of thing at a time. */

import type { Schemas } from '../api/client';
import type { LaidHead } from '../player/laidHead';

type Desk = Schemas['Desk'];
type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];

export type Selection =
  | { readonly kind: 'stints'; readonly ids: readonly string[] }
  | { readonly kind: 'join'; readonly incoming: string }
  | { readonly kind: 'lane'; readonly id: string }
  | { readonly kind: 'beat'; readonly id: string }
  | { readonly kind: 'sound'; readonly id: string }
  | { readonly kind: 'soundLane'; readonly id: string }
  | { readonly kind: 'fix'; readonly id: string }
  /** A pin of a stint’s elastic, or without a stint of the scene’s, by its place. */
  | { readonly kind: 'pin'; readonly stint: string | null; readonly pin: number }
  | SlowWish
  /** The scene’s camera, or one of its keys by its frame. */
  | { readonly kind: 'camera'; readonly key: number | null }
  /** A guide, or one of its keys by its frame. */
  | { readonly kind: 'guide'; readonly id: string; readonly key: number | null }
  | { readonly kind: 'figure'; readonly id: string };

/** A range of the desk that is to be slowed or hurried, of a stint or of the whole scene. */
export interface SlowWish {
  readonly kind: 'slow';
  readonly stint: string | null;
  readonly start: number;
  readonly end: number;
}

export const stintsOf = (selection: Selection | null): readonly string[] =>
  selection?.kind === 'stints' ? selection.ids : [];

export function choosing(ids: readonly string[]): Selection | null {
  return ids.length ? { kind: 'stints', ids } : null;
}

/** With Shift a stint joins the chosen ones, or leaves them. */
export function toggled(selection: Selection | null, id: string): Selection | null {
  const ids = stintsOf(selection);
  return choosing(ids.includes(id) ? ids.filter((other) => other !== id) : [...ids, id]);
}

export function findStint(desk: Desk, id: string): { lane: Lane; stint: Stint } | null {
  for (const lane of desk.lanes) {
    const stint = lane.stints.find((other) => other.id === id);
    if (stint) return { lane, stint };
  }
  return null;
}

export const allStints = (desk: Desk): Stint[] => desk.lanes.flatMap((lane) => lane.stints);

/** Everything that plays at the playhead or later. */
export const fromPlayhead = (desk: Desk, frame: number): Selection | null =>
  choosing(
    allStints(desk)
      .filter((stint) => stint.start >= frame)
      .map((stint) => stint.id),
  );

/** What lies under a range of time. */
export const under = (desk: Desk, start: number, end: number): Selection | null =>
  choosing(
    allStints(desk)
      .filter((stint) => stint.start < end && stint.end > start)
      .map((stint) => stint.id),
  );

export type SoundLane = Schemas['DeskSoundLane'];
export type Sound = Schemas['DeskSound'];

export function findSound(
  desk: Desk,
  selection: Selection | null,
): { lane: SoundLane; sound: Sound } | null {
  if (selection?.kind !== 'sound') return null;
  for (const lane of desk.sound_lanes) {
    const sound = lane.sounds.find((other) => other.id === selection.id);
    if (sound) return { lane, sound };
  }
  return null;
}

/** The sound lane that is chosen, or on which the chosen sound lies. */
export const soundLaneOf = (desk: Desk, selection: Selection | null): SoundLane | null =>
  findSound(desk, selection)?.lane ??
  desk.sound_lanes.find((lane) => selection?.kind === 'soundLane' && lane.id === selection.id) ??
  null;

/** A selection without what is no longer there. */
export function stillThere(desk: Desk, selection: Selection | null): Selection | null {
  if (!selection) return null;
  if (selection.kind === 'stints') {
    const there = selection.ids.filter((id) => findStint(desk, id));
    return there.length === selection.ids.length ? selection : choosing(there);
  }
  if (selection.kind === 'join') {
    const held = desk.lanes.some((lane) =>
      [...lane.joins, ...lane.cuts].some((join) => join.incoming === selection.incoming),
    );
    return held
      ? selection
      : choosing(findStint(desk, selection.incoming) ? [selection.incoming] : []);
  }
  if (selection.kind === 'camera') {
    if (!desk.camera) return null;
    const isThere = desk.camera.keys.some(({ frame }) => frame === selection.key);
    return isThere ? selection : { kind: 'camera', key: null };
  }
  if (selection.kind === 'guide') {
    const guide = desk.guides.find(({ id }) => id === selection.id);
    const isThere = guide?.keys.some(({ frame }) => frame === selection.key);
    return guide ? (isThere ? selection : { ...selection, key: null }) : null;
  }
  if (selection.kind === 'pin' || selection.kind === 'slow')
    return selection.stint === null || findStint(desk, selection.stint) ? selection : null;
  const fix = desk.lanes.flatMap((lane) => lane.fixes ?? []);
  const lists = {
    lane: desk.lanes,
    beat: desk.beats,
    figure: desk.figures,
    fix,
    soundLane: desk.sound_lanes,
    sound: desk.sound_lanes.flatMap((lane) => lane.sounds),
  } as const;
  const rows: readonly { readonly id: string }[] = lists[selection.kind];
  return rows.some((row) => row.id === selection.id) ? selection : null;
}

/** The figure that what is chosen moves. */
export function figureOf(desk: Desk, selection: Selection | null): string | null {
  if (selection?.kind === 'figure') return selection.id;
  if (selection?.kind === 'lane')
    return desk.lanes.find((lane) => lane.id === selection.id)?.figure ?? null;
  if (selection?.kind === 'fix') return fixLaneOf(desk, selection)?.figure ?? null;
  const stint =
    selection?.kind === 'join'
      ? selection.incoming
      : (stintsOf(selection)[0] ?? timedStint(selection));
  return (stint && findStint(desk, stint)?.lane.figure) || null;
}

/** The one stint that is chosen, or a pin of which is: whose strands can be unfolded. */
export function timedStint(selection: Selection | null): string | null {
  if (selection?.kind === 'pin' || selection?.kind === 'slow') return selection.stint;
  return stintsOf(selection).length === 1 ? stintsOf(selection)[0] : null;
}

/** What is to be slowed: a chosen beat or the range that loops, of the chosen stint or of the scene; else the
 * stint, or a second from the playhead on. */
export function slowWish(desk: Desk, selection: Selection | null, head: LaidHead): SlowWish {
  const stint = timedStint(selection);
  const own = stint === null ? null : (findStint(desk, stint)?.stint ?? null);
  const beat =
    selection?.kind === 'beat' ? desk.beats.find((other) => other.id === selection.id) : undefined;
  const { range } = head.snapshot();
  const looped = range && {
    start: Math.round(head.laidAt(range.start)),
    end: Math.round(head.laidAt(range.end)),
  };
  const second = {
    start: head.frame,
    end: Math.min(desk.laid_frames, head.frame + Math.round(desk.frames_per_second)),
  };
  const { start, end } = beat ?? looped ?? own ?? second;
  // Of a stint only what it has.
  const inside = own
    ? { start: Math.max(start, own.start), end: Math.min(end, own.end) }
    : { start, end };
  const whole = inside.end > inside.start ? inside : (own ?? second);
  return { kind: 'slow', stint, start: whole.start, end: whole.end };
}

/** The fix lane that is chosen, or one of whose fixes is. */
export function fixLaneOf(desk: Desk, selection: Selection | null): Lane | null {
  const isIn = (lane: Lane) =>
    selection?.kind === 'fix'
      ? lane.fixes?.some((fix) => fix.id === selection.id)
      : selection?.kind === 'lane' && lane.id === selection.id && lane.fixes;
  return desk.lanes.find(isIn) ?? null;
}

/** Frames where something begins or ends, in order. */
export function cutsOf(desk: Desk): number[] {
  const edges = allStints(desk).flatMap((stint) => [stint.start, stint.end]);
  return inOrder([...edges, 0, desk.laid_frames - 1].filter((at) => at < desk.laid_frames));
}

export const beatEdges = (desk: Desk): number[] =>
  inOrder(desk.beats.flatMap((beat) => [beat.start, beat.end]));

/** Where a foot comes down or lifts. */
export const stepsOf = (desk: Desk): number[] =>
  inOrder(
    allStints(desk).flatMap((stint) =>
      stint.plants.flatMap((plant) => [Math.ceil(plant.start), Math.ceil(plant.end)]),
    ),
  );

const inOrder = (frames: readonly number[]): number[] => [...new Set(frames)].sort((a, b) => a - b);

/** The nearest of these before (−1) or after (1) a frame. */
export function nextOf(frames: readonly number[], here: number, way: 1 | -1): number | null {
  const there = way > 0 ? frames.find((at) => at > here) : frames.findLast((at) => at < here);
  return there ?? null;
}

/** Rest, hold, wait, ease, and round again. */
export const gapRuleAfter = (rule: Lane['gap']): Lane['gap'] =>
  (({ rest: 'hold', hold: 'wait', wait: 'ease', ease: 'rest' }) as const)[rule];

/** A clip laid down so near to a stint's end is laid next to it. */
const NEAR_END_FRAMES = 4;

/** The stint of a figure's lane at whose end something is laid down; none where that is not near one. */
export function stintEndingAt(
  desk: Desk,
  { lane: id, frame }: { readonly lane: string | null; readonly frame: number },
  figure: string,
): string | null {
  const lane = desk.lanes.find((other) => other.id === id);
  return lane?.takes_clips_of.includes(figure) ? stintEndingNear(lane, frame) : null;
}

/** The stint of a lane whose end is nearest to a frame; none where none is near. */
export function stintEndingNear(lane: Lane, frame: number): string | null {
  const far = (end: number) => Math.abs(end - frame);
  const near = lane.stints.filter(({ end }) => far(end) <= NEAR_END_FRAMES);
  return near.sort((a, b) => far(a.end) - far(b.end))[0]?.id ?? null;
}
