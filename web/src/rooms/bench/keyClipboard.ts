/** Copied keys, kept in this browser, so that they can be pasted into another clip. */

import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import { recall, remember } from '../../app/remembered';

type Keys = (ClipEdit & { kind: 'paste_keys' })['keys'];

const KEY = 'hours/copied keys';

/** Copy chosen keys; their times count from the first of them. How many there were. */
export function copyKeys(bench: Clip['bench'], chosen: Chosen): number {
  const times = Object.values(chosen).flat();
  if (!times.length) return 0;
  const first = Math.min(...times);
  const keys: Keys = {};
  for (const curve of bench.curves) {
    const wanted = chosen[curve.channel];
    if (!wanted?.length) continue;
    keys[curve.channel] = curve.keys
      .filter((key) => wanted.includes(key.time))
      .map(({ time, value, in_slope, out_slope, span }) => ({
        time: time - first,
        value,
        in_slope,
        out_slope,
        span,
      }));
  }
  remember(KEY, keys);
  return times.length;
}

/** The copied keys laid in at a frame; from one joint onto another chosen one. */
export function pasteKeys(
  frame: number,
  mirrored: boolean,
  joints: readonly string[],
): ClipEdit | null {
  const keys = recall<Keys>(KEY);
  if (!keys) return null;
  const copied = [
    ...new Set(
      Object.keys(keys).flatMap((name) => name.match(/^(.+)\.(?:turn|move)\.[xyz]$/)?.[1] ?? []),
    ),
  ];
  const onto: Record<string, string> =
    copied.length === 1 && joints.length === 1 && copied[0] !== joints[0]
      ? { [copied[0]]: joints[0] }
      : {};
  return { kind: 'paste_keys', keys, frame, mirrored, onto };
}
