/** Pictures on their way in: kept one after another, then made into drawings by a job. */

import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { sentence } from '../../api/client';
import { bringInDrawings, type KeptPicture, keepDrawingFile } from '../../api/drawings';
import { newId } from '../../api/newId';
import { type Job, useJobHand, useJobs, watchJob } from './jobs/useJobs';
import { libraryKey } from './useLibrary';

export interface DrawingsWish {
  readonly name: string;
  readonly into: string | null;
  readonly replace: boolean;
  readonly grid: { readonly columns: number; readonly rows: number } | null;
}

interface Sending {
  readonly state: 'chosen' | 'sending' | 'made' | 'refused';
  /** How many files are kept, and how much of the next one. */
  readonly kept: number;
  readonly share: number;
  readonly job: string | null;
  readonly problem: string | null;
}

const FIRST: Sending = { state: 'chosen', kept: 0, share: 0, job: null, problem: null };
/** So many files are sent at a time. */
const AT_ONCE = 3;

export function useBringDrawings(
  production: string,
  files: readonly File[],
  onIn: (job: Job) => void,
) {
  const queries = useQueryClient();
  const [now, setNow] = useState(FIRST);
  const abort = useRef<AbortController | null>(null);
  const { cancel, putAway } = useJobHand(production);
  const jobs = useJobs(production).data;
  const job = jobs?.find(({ id }) => id === now.job) ?? null;
  const heard = useRef(onIn);
  heard.current = onIn;
  const send = async (wish: DrawingsWish) => {
    const aborter = new AbortController();
    abort.current = aborter;
    setNow({ ...FIRST, state: 'sending' });
    const kept: KeptPicture[] = [];
    const waiting = files.map((file, place) => ({ file, place }));
    const next = async (): Promise<void> => {
      const one = waiting.shift();
      if (!one || aborter.signal.aborted) return;
      kept[one.place] = await keepDrawingFile(production, one.file, onShare, aborter.signal);
      setNow((old) => ({ ...old, kept: old.kept + 1, share: 0 }));
      await next();
    };
    const onShare = (share: number) => setNow((old) => ({ ...old, share }));
    try {
      await Promise.all(Array.from({ length: AT_ONCE }, next));
      // The names of a folder's files go by their own ends.
      const made = await bringInDrawings(production, { ...wish, files: kept, token: newId() });
      watchJob(queries, production, made);
      setNow((old) => ({ ...old, job: made.id }));
    } catch (problem) {
      aborter.abort();
      setNow({ ...FIRST, state: 'refused', problem: sentence(problem) });
    }
  };
  const isDone = job?.state === 'done';
  const refusal = job && ['refused', 'cancelled'].includes(job.state) ? job : null;
  useEffect(() => {
    if (!isDone || !job) return;
    putAway(job.id);
    void queries.invalidateQueries({ queryKey: libraryKey(production) });
    heard.current(job);
  }, [isDone, job, putAway, queries, production]);
  useEffect(() => {
    if (!refusal) return;
    putAway(refusal.id);
    setNow({ ...FIRST, state: 'refused', problem: refusal.says.join(' ') || 'Cancelled.' });
  }, [refusal, putAway]);
  return {
    now,
    job,
    send,
    cancel: () => {
      abort.current?.abort();
      if (job) cancel(job.id);
      setNow(FIRST);
    },
  };
}
