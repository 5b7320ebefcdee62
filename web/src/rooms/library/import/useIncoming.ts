/** Files on their way in: sent one after another; one that cannot be read stops none of the others. */

import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { answered, api, type Schemas, sendFile, sentence } from '../../../api/client';
import { libraryKey } from '../useLibrary';
import { firstWish, type Wish } from './wish';

export interface Incoming {
  readonly id: number;
  readonly file: File;
  readonly state: 'waits' | 'sending' | 'ready' | 'coming in' | 'in' | 'refused' | 'cancelled';
  /** How much of it is sent, 0 to 1. */
  readonly share: number;
  readonly report: Schemas['FileReport'] | null;
  readonly wish: Wish | null;
  /** Why it was refused, or what came of it. */
  readonly says: string | null;
}

const isOwnFile = (file: File) => file.name.toLowerCase().endsWith('.json');

export function useIncoming(production: string, files: readonly File[]) {
  const queries = useQueryClient();
  const [rows, setRows] = useState<readonly Incoming[]>(() =>
    files.map((file, id) => ({
      id,
      file,
      state: 'waits',
      share: 0,
      report: null,
      wish: null,
      says: null,
    })),
  );
  const aborts = useRef(new Map<number, AbortController>());
  const change = useCallback(
    (id: number, part: Partial<Incoming>) =>
      setRows((old) => old.map((row) => (row.id === id ? { ...row, ...part } : row))),
    [],
  );

  const send = useCallback(
    async (row: Incoming) => {
      const abort = new AbortController();
      aborts.current.set(row.id, abort);
      change(row.id, { state: 'sending' });
      const onProgress = (share: number) => change(row.id, { share });
      try {
        if (isOwnFile(row.file)) {
          const route = `/api/productions/${production}/own-files`;
          const opened = await sendFile<Schemas['FileOpened']>(
            route,
            row.file,
            onProgress,
            abort.signal,
          );
          const kind = opened.kind === 'scene' ? 'A scene' : 'A clip';
          const says = [`${kind}, ${opened.name}.`, ...opened.says].join(' ');
          change(row.id, { state: 'in', says });
          await queries.invalidateQueries({ queryKey: libraryKey(production) });
          return;
        }
        const route = `/api/productions/${production}/files`;
        const report = await sendFile<Schemas['FileReport']>(
          route,
          row.file,
          onProgress,
          abort.signal,
        );
        change(row.id, { state: 'ready', report, wish: firstWish(report) });
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
    if (next) void send(next);
  }, [next, send]);
  useEffect(() => {
    const held = aborts.current;
    return () => {
      for (const abort of held.values()) abort.abort();
    };
  }, []);

  const cancel = useCallback(
    (id: number) => {
      aborts.current.get(id)?.abort();
      change(id, { state: 'cancelled', says: 'Cancelled.' });
    },
    [change],
  );

  const bringIn = useCallback(
    async (row: Incoming) => {
      if (!row.report || !row.wish) return;
      change(row.id, { state: 'coming in', says: null });
      try {
        const imported = await answered(
          api.POST('/api/productions/{production_id}/clips', {
            params: { path: { production_id: production } },
            body: { file: row.report.file, ...wanted(row.wish) },
          }),
        );
        change(row.id, {
          state: 'in',
          says: `${imported.clip.name} is in the library. ${imported.says.join(' ')}`,
        });
        await queries.invalidateQueries({ queryKey: libraryKey(production) });
      } catch (problem) {
        change(row.id, { state: 'ready', says: sentence(problem) });
      }
    },
    [change, production, queries],
  );

  return { rows, change, cancel, bringIn };
}

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
