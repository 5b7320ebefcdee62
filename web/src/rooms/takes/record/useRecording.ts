import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, type Schemas } from '../../../api/client';
import { newId } from '../../../api/newId';
import { type Recording, readJob, startRecording, stopRecording } from '../../../api/stage';
import { readTakeHead, sendTakeEdit } from '../../../api/takes';
import { useNotices } from '../../../app/notices';
import { isUnderWay, type Job } from '../../library/jobs/useJobs';
import { libraryKey } from '../../library/useLibrary';

const LOOK_AGAIN_MS = 250;

export interface RecordingHand {
  /** The take that is armed or recorded, and how far it is. */
  readonly under: Recording | null;
  readonly job: Job | null;
  /** What came of the last one. */
  readonly says: string;
  readonly arm: (wanted: Schemas['RecordWanted']) => void;
  readonly stop: () => void;
  readonly throwAway: () => void;
  readonly isBusy: boolean;
}

/** The take that is being recorded, in this page or since before it: `standing` is what the server tells. */
export function useRecording(production: string, standing: Recording | null): RecordingHand {
  const notices = useNotices();
  const queries = useQueryClient();
  const [mine, setMine] = useState<Recording | null>(null);
  const [says, setSays] = useState('');
  const under = mine ?? standing;
  const told = useQuery({
    queryKey: ['recording', under?.job.id],
    queryFn: () => readJob(under?.job.id ?? ''),
    enabled: under !== null,
    refetchInterval: ({ state }) => (!state.data || isUnderWay(state.data) ? LOOK_AGAIN_MS : false),
  });
  const job = under && (told.data ?? under.job);
  const over = job && !isUnderWay(job) ? job : null;
  useEffect(() => {
    if (!over) return;
    setSays(over.state === 'cancelled' ? 'Thrown away.' : over.says.join(' '));
    setMine(null);
    // Its end was seen here: the library need not tell of it once more.
    api.POST('/api/jobs/{job_id}/seen', { params: { path: { job_id: over.id } } }).catch(() => {});
    void queries.invalidateQueries({ queryKey: ['stage', production] });
    void queries.invalidateQueries({ queryKey: libraryKey(production) });
  }, [over, production, queries]);
  const onError = (problem: unknown) => notices.trouble(problem);
  const arm = useMutation({
    mutationFn: (wanted: Schemas['RecordWanted']) => startRecording(production, wanted),
    onSuccess: (begun) => {
      setSays('');
      setMine(begun);
    },
    onError,
  });
  const stop = useMutation({
    mutationFn: (recording: Recording) => stopRecording(production, recording.id),
    onError,
  });
  const throwAway = useMutation({
    mutationFn: (recording: Recording) =>
      api.POST('/api/jobs/{job_id}/cancel', { params: { path: { job_id: recording.job.id } } }),
    onError,
  });
  return {
    under: over ? null : under,
    job,
    says,
    arm: arm.mutate,
    stop: () => under && stop.mutate(under),
    throwAway: () => under && throwAway.mutate(under),
    isBusy: arm.isPending || stop.isPending || throwAway.isPending,
  };
}

/** Circles a take, or rubs its circle out. */
export function useCircle(production: string) {
  const notices = useNotices();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, circled }: { id: string; circled: boolean }) => {
      const { revision } = await readTakeHead(id);
      return sendTakeEdit(id, { kind: 'circle_take', circled }, revision, newId());
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: libraryKey(production) }),
    onError: (problem) => notices.trouble(problem),
  });
}
