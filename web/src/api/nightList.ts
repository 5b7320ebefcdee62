/** The night list: prints that wait and that are made, in the order they are taken up. */

import { answered, api, type Schemas } from './client';

export type PrintRow = Schemas['PrintRow'];

const LOOK_AGAIN_MS = 1_000;
/** Others ask for prints too. */
const LOOK_FOR_OTHERS_MS = 6_000;

/** The answer’s places and views are as long as they are said to be. */
const listed = (asked: Parameters<typeof answered>[0]) => answered(asked) as Promise<PrintRow[]>;

export const nightListKey = (production: string) => ['night list', production];

export const nightListQuery = (production: string) => ({
  queryKey: nightListKey(production),
  queryFn: () =>
    listed(
      api.GET('/api/productions/{production_id}/night-list', {
        params: { path: { production_id: production } },
      }),
    ),
  refetchInterval: ({ state }: { state: { data?: PrintRow[] | undefined } }) =>
    state.data?.some(({ state: now }) => now === 'running' || now === 'waiting')
      ? LOOK_AGAIN_MS
      : LOOK_FOR_OTHERS_MS,
});

const row = (production: string, job: string) => ({
  params: { path: { production_id: production, job_id: job } },
});

export const putInOrder = (production: string, order: readonly string[]) =>
  listed(
    api.PUT('/api/productions/{production_id}/night-list', {
      params: { path: { production_id: production } },
      body: { order: [...order] },
    }),
  );

export const putOff = (production: string, job: string, body: Schemas['PutOff']) =>
  listed(
    api.PATCH('/api/productions/{production_id}/night-list/{job_id}', {
      ...row(production, job),
      body,
    }),
  );

export const takeOff = (production: string, job: string) =>
  listed(api.DELETE('/api/productions/{production_id}/night-list/{job_id}', row(production, job)));

export const printAgain = (production: string, job: string) =>
  listed(
    api.POST('/api/productions/{production_id}/night-list/{job_id}/again', row(production, job)),
  );

export const throwOldAway = (production: string, days: number) =>
  answered(
    api.POST('/api/productions/{production_id}/prints/old', {
      params: { path: { production_id: production } },
      body: { days },
    }),
  );
