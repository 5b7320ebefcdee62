/** Files on their way in: sent one after another; one that cannot be read stops none of the others. */

import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { answered, api, type Schemas, sendFile, sentence } from '../../../api/client';
import { newId } from '../../../api/newId';
import { isSoundFile, sendSound } from '../../../api/sounds';
import { newTake } from '../../../api/takes';
import { isUnderWay, type Job, useJobHand, useJobs, watchJob } from '../jobs/useJobs';
import { libraryKey } from '../useLibrary';
import { firstWish, type Wish } from './wish';

export interface Incoming {
  readonly id: number;
  readonly name: string;
  /** None where it was sent before, and read since. */
  readonly file: File | null;
  readonly state:
    | 'waits'
    | 'sending'
    | 'reading'
    | 'ready'
    | 'coming in'
    | 'in'
    | 'refused'
    | 'cancelled';
  /** How much of it is sent, 0 to 1. */
  readonly share: number;
  /** What reads it, or makes the clip, where that takes long. */
  readonly job: string | null;
  readonly readBy: string | null;
  readonly report: Schemas['FileReport'] | null;
  readonly wish: Wish | null;
  /** Why it was refused, or what came of it. */
  readonly says: string | null;
}

const fresh = {
  file: null,
  state: 'waits',
  share: 0,
  job: null,
  readBy: null,
  report: null,
  wish: null,
  says: null,
} as const;
const isGltfFile = (file: File) => /\.(glb|gltf)$/i.test(file.name);
const isOwnFile = (file: File) => /\.(json|zip|otioz?)$/i.test(file.name);

/** Files to be sent, and those that a job has read already. */
export function useIncoming(
  production: string,
  files: readonly File[],
  read: readonly Job[],
  onTake: (take: string) => void,
) {
  const queries = useQueryClient();
  const [rows, setRows] = useState<readonly Incoming[]>(() => [
    ...files.map((file, id) => ({ ...fresh, id, name: file.name, file })),
    ...read.map((job, place) => ({
      ...fresh,
      id: files.length + place,
      name: job.title,
      state: 'reading' as const,
      job: job.id,
    })),
  ]);
  const jobs = useJobs(production).data;
  const { cancel: cancelJob, putAway } = useJobHand(production);
  const aborts = useRef(new Map<number, AbortController>());
  const change = useCallback(
    (id: number, part: Partial<Incoming>) =>
      setRows((old) => old.map((row) => (row.id === id ? { ...row, ...part } : row))),
    [],
  );

  const send = useCallback(
    async (row: Incoming, file: File) => {
      const abort = new AbortController();
      aborts.current.set(row.id, abort);
      change(row.id, { state: 'sending' });
      const onProgress = (share: number) => change(row.id, { share });
      const base = `/api/productions/${production}`;
      try {
        if (isOwnFile(file)) {
          const opened = await sendFile<Schemas['FileOpened'] | Job>(
            `${base}/own-files`,
            file,
            onProgress,
            abort.signal,
          );
          if ('state' in opened) {
            watchJob(queries, production, opened);
            change(row.id, { state: 'reading', job: opened.id });
            return;
          }
          const kind = opened.kind === 'scene' ? 'A scene' : 'A clip';
          const says = [`${kind}, ${opened.name}.`, ...opened.says].join(' ');
          change(row.id, { state: 'in', says });
          await queries.invalidateQueries({ queryKey: libraryKey(production) });
          return;
        }
        if (isSoundFile(file)) {
          const made = await sendSound(production, file, onProgress, abort.signal);
          if ('state' in made) {
            watchJob(queries, production, made);
            change(row.id, { state: 'reading', job: made.id });
            return;
          }
          const says = `${made.name} is in the library, ${made.length_seconds.toFixed(2)} s.`;
          change(row.id, { state: 'in', says });
          await queries.invalidateQueries({ queryKey: libraryKey(production) });
          return;
        }
        if (isGltfFile(file)) {
          const [first, ...others] = await sendFile<Schemas['FileReport'][]>(
            `${base}/gltf-files`,
            file,
            onProgress,
            abort.signal,
          );
          change(row.id, {
            name: others.length ? `${file.name}: ${first.suggested_name}` : file.name,
            state: 'ready',
            report: first,
            wish: firstWish(first),
          });
          // Each clip of the file is brought in, or left, by itself.
          setRows((old) => [
            ...old,
            ...others.map((report, place) => ({
              ...fresh,
              id: old.length + place,
              name: `${file.name}: ${report.suggested_name}`,
              state: 'ready' as const,
              report,
              wish: firstWish(report),
            })),
          ]);
          return;
        }
        const sent = await sendFile<Schemas['FileReport'] | Job>(
          `${base}/files`,
          file,
          onProgress,
          abort.signal,
        );
        if ('frames' in sent) {
          change(row.id, { state: 'ready', report: sent, wish: firstWish(sent) });
          return;
        }
        watchJob(queries, production, sent);
        change(row.id, { state: 'reading', job: sent.id });
      } catch (problem) {
        if (abort.signal.aborted) change(row.id, { state: 'cancelled', says: 'Cancelled.' });
        else change(row.id, { state: 'refused', says: sentence(problem) });
      }
    },
    [change, production, queries],
  );

  const next = rows.some((row) => row.state === 'sending')
    ? undefined
    : rows.find((row) => row.state === 'waits');
  useEffect(() => {
    if (next?.file) void send(next, next.file);
  }, [next, send]);
  useEffect(() => {
    const held = aborts.current;
    return () => {
      for (const abort of held.values()) abort.abort();
    };
  }, []);

  const ended = useCallback(
    async (row: Incoming, job: Job) => {
      if (job.state === 'done' && job.file) {
        change(row.id, { job: null, readBy: job.id });
        try {
          const report = await answered(
            api.GET('/api/productions/{production_id}/files/{sha256}', {
              params: { path: { production_id: production, sha256: job.file } },
            }),
          );
          change(row.id, { state: 'ready', report, wish: firstWish(report) });
        } catch (problem) {
          change(row.id, { state: 'refused', says: sentence(problem) });
        }
        return;
      }
      putAway(job.id);
      if (job.state === 'done') {
        if (row.readBy) putAway(row.readBy);
        change(row.id, { state: 'in', job: null, says: job.says.join(' ') });
        await queries.invalidateQueries({ queryKey: libraryKey(production) });
      } else if (row.state === 'coming in') {
        // The file is still here: its choices may be changed, and it may be tried again.
        const says = job.state === 'cancelled' ? 'Cancelled.' : job.says.join(' ');
        change(row.id, { state: 'ready', job: null, says });
      } else if (job.state === 'cancelled') {
        change(row.id, { state: 'cancelled', job: null, says: 'Cancelled.' });
      } else {
        change(row.id, { state: 'refused', job: null, says: job.says.join(' ') });
      }
    },
    [change, production, putAway, queries],
  );
  useEffect(() => {
    for (const row of rows) {
      const job = row.job && jobs?.find((one) => one.id === row.job);
      if (job && !isUnderWay(job)) void ended(row, job);
    }
  }, [rows, jobs, ended]);

  const cancel = useCallback(
    (row: Incoming) => {
      if (row.job) {
        cancelJob(row.job);
        return;
      }
      aborts.current.get(row.id)?.abort();
      change(row.id, { state: 'cancelled', says: 'Cancelled.' });
    },
    [change, cancelJob],
  );

  const bringIn = useCallback(
    async (row: Incoming) => {
      if (!row.report || !row.wish) return;
      change(row.id, { state: 'coming in', says: null });
      try {
        if (row.wish.as === 'take') {
          const take = await newTake(production, takeOf(row.report.file, row.wish));
          if ('state' in take) {
            watchJob(queries, production, take);
            change(row.id, { job: take.id });
            return;
          }
          change(row.id, { state: 'in', says: `${take.name} is in the library, as it came.` });
          await queries.invalidateQueries({ queryKey: libraryKey(production) });
          onTake(take.id);
          return;
        }
        const made = await answered(
          api.POST('/api/productions/{production_id}/clips', {
            params: { path: { production_id: production } },
            body: { file: row.report.file, token: newId(), ...wanted(row.wish) },
          }),
        );
        if ('state' in made) {
          watchJob(queries, production, made);
          change(row.id, { job: made.id });
          return;
        }
        change(row.id, {
          state: 'in',
          says: `${made.clip.name} is in the library. ${made.says.join(' ')}`,
        });
        await queries.invalidateQueries({ queryKey: libraryKey(production) });
      } catch (problem) {
        change(row.id, { state: 'ready', says: sentence(problem) });
      }
    },
    [change, production, queries, onTake],
  );

  const jobOf = (row: Incoming) => jobs?.find((one) => one.id === row.job) ?? null;
  return { rows, change, cancel, bringIn, jobOf };
}

const takeOf = (file: string, { name, metresPerUnit, onto }: Wish) => ({
  file,
  name,
  metres_per_unit: metresPerUnit,
  clip_rate: '24',
  onto,
  token: newId(),
});

function wanted(wish: Wish) {
  const { name, start, end, rate, metresPerUnit, plays, colour, onto, mapping, figureName } = wish;
  return {
    name,
    start,
    end,
    rate,
    metres_per_unit: metresPerUnit,
    is_cycle: plays === 'found' ? null : plays === 'cycle',
    colour,
    onto: onto === null ? null : { figure: onto, mapping },
    figure_name: onto === null ? figureName || null : null,
  };
}
