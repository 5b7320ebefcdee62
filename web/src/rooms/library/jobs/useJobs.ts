/** Long work that this person has asked for, as far as it is; watched while any of it is under way. */

import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api, type Schemas } from '../../../api/client';
import { useNotices } from '../../../app/notices';

export type Job = Schemas['JobView'];

const LOOK_AGAIN_MS = 400;
const jobsKey = (production: string) => ['jobs', production];

export const isUnderWay = (job: Job) => job.state === 'waiting' || job.state === 'running';

export function useJobs(production: string) {
  return useQuery({
    queryKey: jobsKey(production),
    queryFn: () =>
      answered(
        api.GET('/api/productions/{production_id}/jobs', {
          params: { path: { production_id: production } },
        }),
      ),
    refetchInterval: ({ state }) => (state.data?.some(isUnderWay) ? LOOK_AGAIN_MS : false),
  });
}

/** A job that was just asked for is there at once, and watched. */
export function watchJob(queries: QueryClient, production: string, job: Job): void {
  queries.setQueryData<Job[]>(jobsKey(production), (known = []) => [
    ...known.filter((one) => one.id !== job.id),
    job,
  ]);
}

/** Take a job back, or put away one whose end was seen. */
export function useJobHand(production: string) {
  const queries = useQueryClient();
  const notices = useNotices();
  const again = () => queries.invalidateQueries({ queryKey: jobsKey(production) });
  const path = (id: string) => ({ params: { path: { job_id: id } } });
  const cancel = useMutation({
    mutationFn: (id: string) => api.POST('/api/jobs/{job_id}/cancel', path(id)),
    onError: (problem) => notices.trouble(problem),
    onSettled: again,
  });
  const putAway = useMutation({
    mutationFn: (id: string) => api.POST('/api/jobs/{job_id}/seen', path(id)),
    onError: (problem) => notices.trouble(problem),
    onSettled: again,
  });
  return { cancel: cancel.mutate, putAway: putAway.mutate };
}
