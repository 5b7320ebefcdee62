/** The key sheet's rows, and which keys are chosen on it. */

import type { BenchCurve, Chosen, Clip } from '../../api/clips';

type Bench = Clip['bench'];

export interface SheetKey {
  readonly time: number;
  readonly holds: boolean;
  /** Made here, and not following the other half or the round. */
  readonly own: boolean;
  readonly moves: boolean;
  readonly turns: boolean;
}

export interface SheetRow {
  readonly id: string;
  readonly label: string;
  readonly kind: 'all' | 'part' | 'joint';
  readonly side: string;
  readonly folded: boolean;
  readonly joints: readonly string[];
  readonly keys: readonly SheetKey[];
}

/** Keys of some joints, merged by their frames. */
export function keysOf(curves: readonly BenchCurve[], length: number): SheetKey[] {
  const found = new Map<number, SheetKey>();
  for (const curve of curves) {
    for (const key of curve.keys) {
      if (key.time < 0 || key.time > length) continue;
      const known = found.get(key.time);
      found.set(key.time, {
        time: key.time,
        holds: (known?.holds ?? true) && key.span === 'hold',
        own: (known?.own ?? false) || key.own,
        moves: (known?.moves ?? false) || curve.kind === 'move',
        turns: (known?.turns ?? false) || curve.kind === 'turn',
      });
    }
  }
  return [...found.values()].sort((a, b) => a.time - b.time);
}

/** A summary row, and joints under their body parts; folded parts show one row. */
export function rowsOf(bench: Bench, folded: readonly string[]): SheetRow[] {
  const byJoint = new Map<string, BenchCurve[]>();
  for (const curve of bench.curves) {
    const known = byJoint.get(curve.joint);
    if (known) known.push(curve);
    else byJoint.set(curve.joint, [curve]);
  }
  const curvesOf = (joints: readonly string[]) => joints.flatMap((name) => byJoint.get(name) ?? []);
  const parts = [...new Set(bench.joints.map((joint) => joint.body_part))];
  const length = bench.length_frames;
  const rows: SheetRow[] = [
    {
      id: 'all',
      label: 'All keys',
      kind: 'all',
      side: 'middle',
      folded: false,
      joints: bench.joints.map((joint) => joint.name),
      keys: keysOf(bench.curves, length),
    },
  ];
  for (const part of parts) {
    const own = bench.joints.filter((joint) => joint.body_part === part);
    const names = own.map((joint) => joint.name);
    const isFolded = folded.includes(part);
    rows.push({
      id: `part:${part}`,
      label: part,
      kind: 'part',
      side: own[own.length - 1].side,
      folded: isFolded,
      joints: names,
      keys: keysOf(curvesOf(names), length),
    });
    if (isFolded) continue;
    for (const joint of own) {
      rows.push({
        id: joint.name,
        label: joint.label,
        kind: 'joint',
        side: joint.side,
        folded: false,
        joints: [joint.name],
        keys: keysOf(curvesOf([joint.name]), length),
      });
    }
  }
  return rows;
}

/** The own keys of some joints at some frames, channel by channel. */
export function chosenAt(
  bench: Bench,
  joints: readonly string[],
  isIn: (time: number) => boolean,
): Chosen {
  const found: Record<string, number[]> = {};
  const wanted = new Set(joints);
  for (const curve of bench.curves) {
    if (!wanted.has(curve.joint)) continue;
    const times = curve.keys.filter((key) => key.own && isIn(key.time)).map((key) => key.time);
    if (times.length) found[curve.channel] = times;
  }
  return found;
}

/** The own keys that lie under a beat, of the chosen joints or of all; in a cycle over its seam too. */
export function under(
  bench: Bench,
  joints: readonly string[],
  beat: Bench['beats'][number],
): Chosen {
  const names = joints.length ? joints : bench.joints.map((joint) => joint.name);
  return chosenAt(bench, names, (time) => isUnder(beat, time));
}

/** Whether a frame lies in one of the stretches that a beat covers. */
export const isUnder = (beat: Pick<Bench['beats'][number], 'stretches'>, time: number): boolean =>
  beat.stretches.some(([start, end]) => time >= start && time < end);

export function merged(a: Chosen, b: Chosen): Chosen {
  const found: Record<string, readonly number[]> = { ...a };
  for (const [channel, times] of Object.entries(b)) {
    found[channel] = [...new Set([...(found[channel] ?? []), ...times])].sort((x, y) => x - y);
  }
  return found;
}

export function without(a: Chosen, b: Chosen): Chosen {
  const found: Record<string, readonly number[]> = {};
  for (const [channel, times] of Object.entries(a)) {
    const left = times.filter((time) => !b[channel]?.includes(time));
    if (left.length) found[channel] = left;
  }
  return found;
}

export const countOf = (chosen: Chosen): number =>
  Object.values(chosen).reduce((sum, times) => sum + times.length, 0);

/** First and last frame of what is chosen. */
export function spanOf(chosen: Chosen): readonly [number, number] | null {
  const times = Object.values(chosen).flat();
  return times.length ? [Math.min(...times), Math.max(...times)] : null;
}

/** Only what is still there: an undo may have taken keys away. */
export function stillKeyed(bench: Bench, chosen: Chosen): Chosen {
  const found: Record<string, readonly number[]> = {};
  for (const curve of bench.curves) {
    const wanted = chosen[curve.channel];
    if (!wanted) continue;
    const left = wanted.filter((time) => curve.keys.some((key) => key.own && key.time === time));
    if (left.length) found[curve.channel] = left;
  }
  return found;
}

/** Whether the very same keys are chosen. */
export const isSameChoice = (a: Chosen, b: Chosen): boolean =>
  countOf(a) === countOf(b) && countOf(without(a, b)) === 0;

/** Chosen keys as an edit wants them. */
export const writtenKeys = (chosen: Chosen): Record<string, number[]> =>
  Object.fromEntries(Object.entries(chosen).map(([name, times]) => [name, [...times]]));

/** The chosen joints' rows know which joints are under a chosen key. */
export function isChosenAt(
  chosenByJoint: ReadonlyMap<string, ReadonlySet<number>>,
  row: SheetRow,
  time: number,
): boolean {
  return row.joints.some((joint) => chosenByJoint.get(joint)?.has(time));
}

export function byJoint(bench: Bench, chosen: Chosen): Map<string, Set<number>> {
  const found = new Map<string, Set<number>>();
  for (const curve of bench.curves) {
    const times = chosen[curve.channel];
    if (!times) continue;
    const known = found.get(curve.joint) ?? new Set<number>();
    for (const time of times) known.add(time);
    found.set(curve.joint, known);
  }
  return found;
}

/** Every frame that has a key. */
export function keyFrames(bench: Bench): number[] {
  const times = new Set<number>();
  for (const curve of bench.curves) {
    for (const key of curve.keys) {
      if (key.time >= 0 && key.time < bench.length_frames) times.add(key.time);
    }
  }
  return [...times].sort((a, b) => a - b);
}
