/** The picture of an elastic. */

import { answered, api, type Schemas } from './client';

export const readStrands = (
  scene: string,
  body: Schemas['StrandsWanted'],
): Promise<Schemas['Strands']> =>
  answered(
    api.POST('/api/scenes/{document_id}/strands', {
      params: { path: { document_id: scene } },
      body,
    }),
  );
