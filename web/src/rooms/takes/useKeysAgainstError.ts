import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { Schemas } from '../../api/client';
import { keysAgainstError, type Looked, type Take } from '../../api/takes';

type Row = Schemas['KeysAgainstError'];

/** In degrees, the tightest first. */
export const TOLERANCES = [0.2, 0.5, 1, 2, 5] as const;

/** What hands and feet may be off by, where turns may be so many degrees. */
export const cmOf = (degrees: number, cmADegree: number): number =>
  Number((degrees * cmADegree).toPrecision(4));

/** What each tolerance takes and gives, told one after another, the loosest first: that is soonest there. */
export function useKeysAgainstError(take: Take, looked: Looked, cmADegree: number) {
  const queries = useQueryClient();
  const [rows, setRows] = useState<readonly Row[]>([]);
  const [problem, setProblem] = useState<unknown>(null);
  const { id, content } = take;
  const { from_frame, to_frame, edit, revision } = looked;
  useEffect(() => {
    // While a number is drawn the curve would only chase it.
    if (edit) return undefined;
    let isOver = false;
    const tell = async () => {
      const told: Row[] = [];
      setProblem(null);
      for (const degrees of [...TOLERANCES].reverse()) {
        const cm = cmOf(degrees, cmADegree);
        const body = { from_frame, to_frame, edit, revision, quick: true, degrees, cm };
        const row = await queries.fetchQuery({
          queryKey: ['keys against error', id, content, from_frame, to_frame, degrees, cm],
          queryFn: ({ signal }) => keysAgainstError(id, body, signal),
          staleTime: Number.POSITIVE_INFINITY,
          retry: false,
        });
        if (isOver) return;
        told.unshift(row);
        setRows([...told]);
      }
    };
    tell().catch((trouble) => !isOver && setProblem(trouble));
    return () => {
      isOver = true;
      void queries.cancelQueries({ queryKey: ['keys against error', id, content] });
    };
  }, [queries, id, content, from_frame, to_frame, edit, revision, cmADegree]);
  return { rows, isTelling: rows.length < TOLERANCES.length, problem };
}
