/** The drawings room's routes: sets of drawings, runs of them, and how pictures come in. */

import { answered, api, type Schemas, sendFile } from './client';
import { pictureAt } from './clips';
import { newId } from './newId';

export type Run = Schemas['RunView'];
export type RunSheet = Schemas['RunSheet'];
export type RunEdit = Schemas['RunEditWanted']['edit'];
export type RunCard = Schemas['RunCard'];
export type DrawnSet = Schemas['SetView'];
export type SetEdit = Schemas['SetEditWanted']['edit'];
export type SetDrawing = Schemas['SetDrawing'];
export type PlacedDrawing = Schemas['PlacedDrawing'];
export type Play = Schemas['RunCard']['play'];
export type KeptPicture = Schemas['KeptPicture'];

const pathOf = (id: string) => ({ path: { document_id: id } });
const production = (id: string) => ({ path: { production_id: id } });

export async function readRun(id: string, revision: number | null = null): Promise<Run> {
  const params = { ...pathOf(id), query: { revision } };
  return (await answered(api.GET('/api/runs/{document_id}', { params }))) as Run;
}

export const readRunHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/runs/{document_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. */
export async function sendRunEdit(
  id: string,
  edit: RunEdit,
  base: number,
  token: string | null,
): Promise<{ view: Run; notes: readonly string[] }> {
  const body = { edit, base_revision: base, preview: token === null, token, known: null };
  const call = api.POST('/api/runs/{document_id}/edits', { params: pathOf(id), body });
  const { run, notes } = (await answered(call)) as Schemas['RunOutcome'];
  return { view: run, notes };
}

export async function walkRun(id: string, way: 'undo' | 'redo', base: number): Promise<Run> {
  const route = `/api/runs/{document_id}/${way}` as const;
  const body = { base_revision: base };
  return (await answered(api.POST(route, { params: pathOf(id), body }))) as Run;
}

export async function goBackRun(id: string, revision: number, base: number): Promise<Run> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/runs/{document_id}/go-back', { params: pathOf(id), body });
  return (await answered(call)) as Run;
}

export const runSheetUrl = (id: string, form: 'csv' | 'pdf'): string =>
  `/api/runs/${id}/sheet?form=${form}`;

const readSet = async (id: string): Promise<DrawnSet> =>
  (await answered(
    api.GET('/api/drawings/{document_id}', { params: { ...pathOf(id), query: {} } }),
  )) as DrawnSet;

/** A set as it stands; it is asked for again where somebody changed it. */
export const setQuery = (id: string) => ({
  queryKey: ['drawings', id],
  queryFn: () => readSet(id),
});

/** Change a set as it stands here: what it is then, and what there is to say. */
export async function changeSet(drawn: DrawnSet, edit: SetEdit): Promise<Schemas['SetOutcome']> {
  const base = { base_revision: drawn.revision, preview: false, token: newId(), known: null };
  const call = api.POST('/api/drawings/{document_id}/edits', {
    params: pathOf(drawn.id),
    body: { edit, ...base },
  });
  return (await answered(call)) as Schemas['SetOutcome'];
}

export async function undoSet(drawn: DrawnSet): Promise<DrawnSet> {
  const body = { base_revision: drawn.revision };
  const call = api.POST('/api/drawings/{document_id}/undo', { params: pathOf(drawn.id), body });
  return (await answered(call)) as DrawnSet;
}

export const newRun = (id: string, body: Schemas['NewRun']): Promise<RunCard> =>
  answered(
    api.POST('/api/productions/{production_id}/runs', { params: production(id), body }),
  ) as Promise<RunCard>;

/** Send a picture, or what is to be taken apart; it is kept until it is brought in. */
export const keepDrawingFile = (
  id: string,
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<KeptPicture> =>
  sendFile(`/api/productions/${id}/drawing-files`, file, onProgress, signal);

/** Kept files become drawings, by a job. */
export const bringInDrawings = (
  id: string,
  body: Schemas['NewDrawings'],
): Promise<Schemas['JobView']> =>
  answered(api.POST('/api/productions/{production_id}/drawings', { params: production(id), body }));

/** One picture in the place of another: it is kept at once. */
export const keepPicture = (
  id: string,
  file: File,
  signal: AbortSignal,
): Promise<Schemas['Picture']> =>
  sendFile(`/api/productions/${id}/pictures`, file, () => {}, signal);

/** A picture as large as it is shown: in a strip, or on the table and on the stage. */
export const pictureShown = (id: string, file: string, size: 'small' | 'shown'): string =>
  `${pictureAt(id, file)}?size=${size}`;

const DRAWING_NAME = /\.(png|jpe?g|webp|gif|svg|mp4|m4v|mov|webm|mkv)$/i;

/** Whether a file is to be brought in as drawings; what it is, the server finds out. */
export const isDrawingFile = (file: File): boolean =>
  DRAWING_NAME.test(file.name) || (/\.zip$/i.test(file.name) && !/\.scene\.zip$/i.test(file.name));

export const DRAWING_ENDINGS = '.png,.jpg,.jpeg,.webp,.gif,.svg,.zip,.mp4,.m4v,.mov,.webm,.mkv';
