/** The cut-out’s routes: a figure is cut out of a drawing set, and made. */

import { answered, api, type Schemas } from './client';

export type CutOut = Schemas['CutOutView'];
export type CutOutSheet = Schemas['CutOutSheet'];
export type CutOutEdit = Schemas['CutOutEditWanted']['edit'];
export type PartShown = Schemas['PartShown'];

const pathOf = (id: string) => ({ path: { document_id: id } });

export async function readCutOut(id: string, revision: number | null = null): Promise<CutOut> {
  const params = { ...pathOf(id), query: { revision } };
  return (await answered(api.GET('/api/cut-outs/{document_id}', { params }))) as CutOut;
}

export const readCutOutHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/cut-outs/{document_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. */
export async function sendCutOutEdit(
  id: string,
  edit: CutOutEdit,
  base: number,
  token: string | null,
): Promise<{ view: CutOut; notes: readonly string[] }> {
  const body = { edit, base_revision: base, preview: token === null, token, known: null };
  const call = api.POST('/api/cut-outs/{document_id}/edits', { params: pathOf(id), body });
  const { cut_out, notes } = (await answered(call)) as Schemas['CutOutOutcome'];
  return { view: cut_out, notes };
}

export async function walkCutOut(id: string, way: 'undo' | 'redo', base: number): Promise<CutOut> {
  const route = `/api/cut-outs/{document_id}/${way}` as const;
  const body = { base_revision: base };
  return (await answered(api.POST(route, { params: pathOf(id), body }))) as CutOut;
}

export async function goBackCutOut(id: string, revision: number, base: number): Promise<CutOut> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/cut-outs/{document_id}/go-back', { params: pathOf(id), body });
  return (await answered(call)) as CutOut;
}

export const newCutOut = (production: string, drawings: string): Promise<Schemas['CutOutCard']> =>
  answered(
    api.POST('/api/productions/{production_id}/cut-outs', {
      params: { path: { production_id: production } },
      body: { drawings, name: null },
    }),
  );

/** The figure of a cut-out as it stands, in the library. */
export const makeFigure = (id: string): Promise<Schemas['FigureMade']> =>
  answered(api.POST('/api/cut-outs/{document_id}/figure', { params: pathOf(id) }));
