/** Frames of the take behind frames of what came out. */

import type { Cleaned, Take } from '../../api/takes';

/** The take's frame that plays at a frame. */
export function sourceAt({ at }: Pick<Cleaned, 'at'>, frame: number): number {
  return Math.round(at[Math.max(0, Math.min(at.length - 1, frame))] ?? 0);
}

/** The take's frame up to which frames `[…, end)` reach; those to the last one reach to the take's end. */
export function sourceEnd({ at }: Pick<Cleaned, 'at'>, end: number, length: number): number {
  return end >= at.length ? length : Math.max(1, Math.round(at[Math.max(0, end)]));
}

type Spike = Cleaned['spikes'][number]['mark'];

/** Whether a spike is refused, by what stands: what came out may not have heard of it yet. */
export const isRefused = (take: Take, { joint, frame, end }: Spike): boolean =>
  take.take.by_hand.refused.some(
    (mark) => mark.joint === joint && mark.frame < end && frame < mark.end,
  );
