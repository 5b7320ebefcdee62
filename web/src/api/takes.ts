/** The takes room's routes. */

import { answered, api, packed, type Schemas } from './client';

export type Take = Schemas['TakeView'];
export type TakeEdit = Schemas['TakeEditWanted']['edit'];
export type Cleaned = Schemas['CleanedSheet'];
export type Step = Take['take']['recipe']['steps'][number];
export type StepSeen = Schemas['StepSeen'];
export type Cycles = Schemas['CyclesFound'];
export type Cycle = Schemas['CycleSeen'];
export type TakeCurve = Schemas['CurveSeen'];
export type TakeCard = Schemas['TakeCard'];
export type RecipeCard = Schemas['RecipeCard'];

/** What of a take is looked at: a window of its frames, after an edit or at an earlier revision. */
export interface Looked {
  readonly from_frame: number;
  readonly to_frame: number;
  readonly edit: TakeEdit | null;
  readonly revision: number | null;
  /** Not thinned to keys: what is seen while a number is drawn. */
  readonly quick: boolean;
}

const pathOf = (id: string) => ({ path: { document_id: id } });

export async function readTake(id: string, revision: number | null = null): Promise<Take> {
  const params = { ...pathOf(id), query: { revision } };
  return (await answered(api.GET('/api/takes/{document_id}', { params }))) as Take;
}

export const readTakeHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/takes/{document_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. */
export async function sendTakeEdit(
  id: string,
  edit: TakeEdit,
  base: number,
  token: string | null,
): Promise<{ view: Take; notes: readonly string[] }> {
  const body = { edit, base_revision: base, preview: token === null, token, known: null };
  const call = api.POST('/api/takes/{document_id}/edits', { params: pathOf(id), body });
  const { take, notes } = (await answered(call)) as Schemas['TakeOutcome'];
  return { view: take, notes };
}

export async function walkTake(id: string, way: 'undo' | 'redo', base: number): Promise<Take> {
  const route = `/api/takes/{document_id}/${way}` as const;
  const body = { base_revision: base };
  return (await answered(api.POST(route, { params: pathOf(id), body }))) as Take;
}

export async function goBackTake(id: string, revision: number, base: number): Promise<Take> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/takes/{document_id}/go-back', { params: pathOf(id), body });
  return (await answered(call)) as Take;
}

/** What takes long is given up with its `signal`: a browser has few connections, and a server few threads. */
export const readCleaned = async (
  id: string,
  body: Looked,
  signal: AbortSignal,
): Promise<Cleaned> =>
  (await answered(
    api.POST('/api/takes/{document_id}/cleaned', { params: pathOf(id), body, signal }),
  )) as Cleaned;

export const takePoses = (
  id: string,
  body: Looked & { start: number; end: number },
  signal: AbortSignal,
) =>
  packed(
    api.POST('/api/takes/{document_id}/poses', {
      params: pathOf(id),
      body,
      signal,
      parseAs: 'arrayBuffer',
    }),
  );

export const takeStrip = (id: string) =>
  packed(
    api.GET('/api/takes/{document_id}/frames', { params: pathOf(id), parseAs: 'arrayBuffer' }),
  );

export const takeCurves = (
  id: string,
  body: Looked & { joints: string[] },
  signal: AbortSignal,
): Promise<TakeCurve[]> =>
  answered(api.POST('/api/takes/{document_id}/curves', { params: pathOf(id), body, signal }));

export const findCycles = (
  id: string,
  body: Looked & { shortest: number | null; longest: number | null },
  signal: AbortSignal,
): Promise<Cycles> =>
  answered(api.POST('/api/takes/{document_id}/cycles', { params: pathOf(id), body, signal }));

export const toBench = (id: string, body: Schemas['ToBenchWanted']): Promise<Schemas['ClipCard']> =>
  answered(api.POST('/api/takes/{document_id}/to-bench', { params: pathOf(id), body }));

export const keepClips = (
  id: string,
  body: Schemas['KeepTakeWanted'],
): Promise<Schemas['ClipCard'][] | Schemas['JobView']> =>
  answered(api.POST('/api/takes/{document_id}/clips', { params: pathOf(id), body }));

export const keysAgainstError = (
  id: string,
  body: Looked & { degrees: number; cm: number },
  signal: AbortSignal,
): Promise<Schemas['KeysAgainstError']> =>
  answered(
    api.POST('/api/takes/{document_id}/keys-against-error', { params: pathOf(id), body, signal }),
  );

export const proposeCuts = (id: string): Promise<Schemas['CutsProposed']> =>
  answered(api.GET('/api/takes/{document_id}/cuts', { params: pathOf(id) }));

export const proposeOnto = (id: string, figure: string): Promise<Schemas['TakeOnto'] | null> =>
  answered(
    api.POST('/api/takes/{document_id}/onto', { params: pathOf(id), body: { figure } }),
  ) as Promise<Schemas['TakeOnto'] | null>;

export const takeFit = (id: string, figure: string): Promise<Schemas['FitView']> =>
  answered(
    api.GET('/api/takes/{document_id}/fit', {
      params: { path: { document_id: id }, query: { figure } },
    }),
  );

const production = (id: string) => ({ path: { production_id: id } });

export const readRecipes = (id: string): Promise<RecipeCard[]> =>
  answered(
    api.GET('/api/productions/{production_id}/recipes', { params: production(id) }),
  ) as Promise<RecipeCard[]>;

export const keepRecipe = (id: string, body: Schemas['KeepRecipeWanted']): Promise<RecipeCard> =>
  answered(
    api.POST('/api/productions/{production_id}/recipes', { params: production(id), body }),
  ) as Promise<RecipeCard>;

export const runRecipe = (
  id: string,
  body: Schemas['RecipeRunWanted'],
): Promise<Schemas['JobView']> =>
  answered(
    api.POST('/api/productions/{production_id}/recipe-runs', { params: production(id), body }),
  );

export const newTake = (
  id: string,
  body: Schemas['TakeInWanted'],
): Promise<TakeCard | Schemas['JobView']> =>
  answered(api.POST('/api/productions/{production_id}/takes', { params: production(id), body }));
