import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { type Looked, readCleaned, type Take, type TakeEdit, takePoses } from '../../api/takes';
import { usePlayback } from '../document/usePlayback';
import type { TakeWindow } from './takesMemory';
import type { TakeState } from './useTake';

interface CleanedOptions {
  readonly take: Take;
  readonly state: TakeState;
  /** The earlier revision that is looked at. */
  readonly revision: number | null;
  readonly window: TakeWindow | null;
}

/** What the recipe makes of the take as it is shown, and its frames, played. */
export function useCleaned({ take, state, revision, window }: CleanedOptions) {
  const { first_window: first } = take.take;
  const edit: TakeEdit | null = revision === null ? (state.preview?.edit ?? null) : null;
  const [start, end] = [window?.start ?? first[0], window?.end ?? first[1]];
  const wanted = useMemo(
    (): Looked => ({ from_frame: start, to_frame: end, edit, revision, quick: isDrawn(edit) }),
    [start, end, edit, revision],
  );
  const queries = useQueryClient();
  const asked = (looked: Looked) => ({
    queryKey: ['cleaned', take.id, take.content, start, end, looked.quick],
    queryFn: ({ signal }: { signal: AbortSignal }) => readCleaned(take.id, looked, signal),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  // Keys take longest: when the room is opened the figure moves before there are any.
  const soonest = useMemo((): Looked => ({ ...wanted, quick: true }), [wanted]);
  const [isOpening, setOpening] = useState(
    () => queries.getQueryData(asked(wanted).queryKey) === undefined,
  );
  const soon = useQuery({ ...asked(soonest), enabled: isOpening });
  const query = useQuery({ ...asked(wanted), enabled: !isOpening });
  const isSoonHere = soon.isSuccess || soon.isError;
  useEffect(() => {
    if (isSoonHere) setOpening(false);
  }, [isSoonHere]);
  const looked = query.data ? wanted : soonest;
  const cleaned = query.data ?? soon.data ?? null;
  const { player, frames } = usePlayback({
    id: take.id,
    length: cleaned?.frames ?? 1,
    framesPerSecond: cleaned?.frames_per_second ?? 24,
    onMovedOn: state.refresh,
  });
  const isFresh = cleaned !== null && !(query.data ? query : soon).isPlaceholderData;
  useEffect(() => {
    if (!cleaned || !isFresh) return;
    frames.lookAt(player.frame);
    frames.show(
      `${take.content} ${start} ${end} ${looked.quick}`,
      cleaned.frames,
      (from, to, signal) => takePoses(take.id, { ...looked, start: from, end: to }, signal),
      edit !== null,
      take.content,
    );
  }, [frames, player, take.id, take.content, cleaned, isFresh, looked, start, end, edit]);
  return {
    cleaned,
    isWorking: query.isFetching || soon.isFetching,
    problem: query.error ?? (query.data ? null : soon.error),
    looked,
    player,
    frames,
  };
}

/** While a number is drawn keys are not made anew, but for the numbers of the keys themselves. */
const isDrawn = (edit: TakeEdit | null): boolean =>
  edit !== null && !(edit.kind === 'set_step' && edit.step.step === 'thin');
