import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { askReading, type Line } from '../../api/lines';
import { newId } from '../../api/newId';
import { useNotices } from '../../app/notices';
import { isUnderWay, type Job, useJobHand, useJobs, watchJob } from '../library/jobs/useJobs';
import type { LineState } from './useLine';

export interface ReadingHands {
  /** Lay the text on the sound; or, roughly, read the sound alone. */
  readonly read: (rough: boolean) => void;
  /** Only what lies between the pins round a moment, in seconds. */
  readonly readBetween: (seconds: number) => void;
  /** The reading that is under way. */
  readonly reading: Job | null;
  readonly cancel: () => void;
}

/** Reading a line, as a job that is watched wherever it was begun; its end is seen at once. */
export function useReading(line: Line, state: LineState): ReadingHands {
  const queries = useQueryClient();
  const notices = useNotices();
  const jobs = useJobs(line.production);
  const hand = useJobHand(line.production);
  const told = useRef(new Set<string>());
  const own = jobs.data?.filter((job) => job.line === line.id) ?? [];
  const reading = own.find(isUnderWay) ?? null;
  const ended = own.find((job) => !isUnderWay(job) && !told.current.has(job.id)) ?? null;
  const { refresh } = state;
  const latest = useRef({ hand, notices });
  latest.current = { hand, notices };
  useEffect(() => {
    if (!ended) return;
    told.current.add(ended.id);
    latest.current.hand.putAway(ended.id);
    if (ended.state === 'done') void refresh();
    if (ended.says.length) latest.current.notices.say(ended.says.join(' '));
  }, [ended, refresh]);
  const ask = (wish: { readonly rough: boolean; readonly again_at: number | null }) => {
    void askReading(line.id, { ...wish, token: newId() }).then(
      (begun) => watchJob(queries, line.production, begun),
      notices.trouble,
    );
  };
  return {
    read: (rough) => ask({ rough, again_at: null }),
    readBetween: (seconds) => ask({ rough: false, again_at: seconds }),
    reading,
    cancel: () => reading && hand.cancel(reading.id),
  };
}
