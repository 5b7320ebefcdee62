import { keepPreviousData, type UseQueryResult, useQueries } from '@tanstack/react-query';
import { type LaneChecks, readChecks } from '../../api/joins';
import type { Checks } from '../../desk/CheckStrip';
import type { Window } from '../../desk/scale';
import type { Scene } from './useScene';

const SPAN_FRAMES = 2_048;
/** Of a very long scene, so much about what is seen. */
const MOST_SPANS = 6;

export const NO_CHECKS: Checks = new Map();

/** What is off on the lanes that are seen, as the scene stands; asked for when it has come to rest. */
export function useChecks(standing: Scene, window: Window | null, rests: boolean): Checks {
  const { desk } = standing;
  const first = window?.start ?? 0;
  const end = window ? window.start + window.frames : desk.laid_frames;
  const start = Math.floor(Math.max(0, first) / SPAN_FRAMES);
  const count = Math.ceil(Math.min(end, desk.laid_frames) / SPAN_FRAMES) - start;
  const spans = Array.from({ length: Math.max(1, Math.min(MOST_SPANS, count)) }, (_, k) => ({
    start: (start + k) * SPAN_FRAMES,
    end: (start + k + 1) * SPAN_FRAMES,
  }));
  return useQueries({
    queries: spans.map((span) => ({
      queryKey: ['checks', standing.id, standing.content, span.start],
      queryFn: () => readChecks(standing.id, { ...span, revision: standing.revision }),
      enabled: rests,
      placeholderData: keepPreviousData,
      retry: false,
    })),
    combine: together,
  });
}

/** Marks by their lanes, span after span. */
function together(results: UseQueryResult<LaneChecks[]>[]): Checks {
  const found = new Map<string, LaneChecks['marks']>();
  for (const { data } of results) {
    for (const { lane, marks } of data ?? [])
      found.set(lane, [...(found.get(lane) ?? []), ...marks]);
  }
  return found;
}
