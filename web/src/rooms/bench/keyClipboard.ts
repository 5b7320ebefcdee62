/** Copied keys, kept in this browser, so that they can be pasted into another clip. */

import type { Chosen, Clip, ClipEdit, CopiedKeys } from '../../api/clips';
import { recall, remember } from '../../app/remembered';

export interface Copied {
  /** The figure that they were made for. */
  readonly figure: string;
  readonly keys: CopiedKeys;
}

const KEY = 'hours/copied';

/** Copy chosen keys; their times count from the first of them. How many there were. */
export function copyKeys(bench: Clip['bench'], chosen: Chosen): number {
  const times = Object.values(chosen).flat();
  if (!times.length) return 0;
  const first = Math.min(...times);
  const keys: CopiedKeys = {};
  for (const curve of bench.curves) {
    const wanted = chosen[curve.channel];
    if (!wanted?.length) continue;
    keys[curve.channel] = curve.keys
      .filter((key) => wanted.includes(key.time))
      .map(({ time, value, in_slope, out_slope, span }) => ({
        time: time - first,
        value,
        in_slope: in_slope ?? 0,
        out_slope: out_slope ?? 0,
        span,
      }));
  }
  const copied: Copied = { figure: bench.figure, keys };
  remember(KEY, copied);
  return times.length;
}

export const copied = (): Copied | null => recall<Copied>(KEY);

/** The joints that copied keys are of; the root's travel and moves have none. */
const jointsOf = (keys: CopiedKeys): string[] => [
  ...new Set(
    Object.keys(keys).flatMap(
      (name) => name.match(/^(.+)\.(?:turn|move|scale)\.[xyz]$/)?.[1] ?? [],
    ),
  ),
];

/** Keys laid in at a frame; from one joint onto another chosen one. */
export function pasted(
  keys: CopiedKeys,
  frame: number,
  mirrored: boolean,
  joints: readonly string[],
): ClipEdit {
  const own = jointsOf(keys);
  const onto: Record<string, string> =
    own.length === 1 && joints.length === 1 && own[0] !== joints[0] ? { [own[0]]: joints[0] } : {};
  return { kind: 'paste_keys', keys, frame, mirrored, onto };
}
