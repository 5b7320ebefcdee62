/** Prints: what is to be printed, what was, and where its film is. */

import { answered, api, type Schemas } from './client';

export type PrintCard = Schemas['PrintCard'];
export type PrintWanted = Schemas['PrintWanted'];

const printsKey = (production: string) => ['prints', production];

export const printsQuery = (production: string) => ({
  queryKey: printsKey(production),
  queryFn: () =>
    answered(
      api.GET('/api/productions/{production_id}/prints', {
        params: { path: { production_id: production } },
      }),
    ) as Promise<PrintCard[]>,
});

const PATHS = {
  scenes: '/api/scenes/{document_id}/prints',
  clips: '/api/clips/{document_id}/prints',
  takes: '/api/takes/{document_id}/prints',
} as const;

export const askPrint = (
  room: keyof typeof PATHS,
  document: string,
  body: PrintWanted,
): Promise<Schemas['JobView']> =>
  answered(api.POST(PATHS[room], { params: { path: { document_id: document } }, body }));

export const throwAway = (print: string) =>
  api.DELETE('/api/prints/{print_id}', { params: { path: { print_id: print } } });

export const filmUrl = (print: string): string => `/api/prints/${print}/film`;
export const filmToKeep = (print: string): string => `${filmUrl(print)}?keep=true`;
