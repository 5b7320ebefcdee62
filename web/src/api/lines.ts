/** The voice room's routes: lines, their reading, and mouth charts. */

import { answered, api, type Schemas } from './client';
import { pictureAt } from './clips';
import { newId } from './newId';

export type Line = Schemas['LineView'];
export type LineSheet = Schemas['LineSheet'];
export type LineEdit = Schemas['LineEditWanted']['edit'];
export type LineCard = Schemas['LineCard'];
export type Exposed = Schemas['Exposed'];
export type SpokenWord = Schemas['SpokenWord'];
export type SpokenPhone = Schemas['SpokenPhone'];
export type Mouth = Schemas['Mouth'];
export type ChartEdit = Schemas['ChartEditWanted']['edit'];
/** A chart with the pictures of its mouths, ready to be painted. */
export type Chart = Schemas['ChartView'] & { readonly pictures: Pictures };
type Pictures = ReadonlyMap<string, HTMLImageElement>;

const pathOf = (id: string) => ({ path: { document_id: id } });

export async function readLine(id: string, revision: number | null = null): Promise<Line> {
  const params = { ...pathOf(id), query: { revision } };
  return (await answered(api.GET('/api/lines/{document_id}', { params }))) as Line;
}

export const readLineHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/lines/{document_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. */
export async function sendLineEdit(
  id: string,
  edit: LineEdit,
  base: number,
  token: string | null,
): Promise<{ view: Line; notes: readonly string[] }> {
  const body = { edit, base_revision: base, preview: token === null, token, known: null };
  const call = api.POST('/api/lines/{document_id}/edits', { params: pathOf(id), body });
  const { line, notes } = (await answered(call)) as Schemas['LineOutcome'];
  return { view: line, notes };
}

export async function walkLine(id: string, way: 'undo' | 'redo', base: number): Promise<Line> {
  const route = `/api/lines/{document_id}/${way}` as const;
  const body = { base_revision: base };
  return (await answered(api.POST(route, { params: pathOf(id), body }))) as Line;
}

export async function goBackLine(id: string, revision: number, base: number): Promise<Line> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/lines/{document_id}/go-back', { params: pathOf(id), body });
  return (await answered(call)) as Line;
}

export const askReading = (
  id: string,
  body: Schemas['ReadLineWanted'],
): Promise<Schemas['JobView']> =>
  answered(api.POST('/api/lines/{document_id}/read', { params: pathOf(id), body }));

export const lineSheetUrl = (id: string, form: 'csv' | 'pdf'): string =>
  `/api/lines/${id}/sheet?form=${form}`;

/** What was changed on a line’s sheet outside, as an edit. */
export const sheetChanges = (id: string, csv: string): Promise<LineEdit> =>
  answered(
    api.POST('/api/lines/{document_id}/sheet-changes', { params: pathOf(id), body: { csv } }),
  ) as Promise<LineEdit>;

const production = (id: string) => ({ path: { production_id: id } });

export const newLine = (id: string, body: Schemas['NewLineWanted']): Promise<LineCard> =>
  answered(
    api.POST('/api/productions/{production_id}/lines', { params: production(id), body }),
  ) as Promise<LineCard>;

export const newChart = (
  id: string,
  body: Schemas['NewChartWanted'],
): Promise<Schemas['ChartCard']> =>
  answered(
    api.POST('/api/productions/{production_id}/charts', { params: production(id), body }),
  ) as Promise<Schemas['ChartCard']>;

const withPictures = async (view: Schemas['ChartView']): Promise<Chart> => {
  const files = view.chart.mouths.flatMap(({ picture }) => picture?.file ?? []);
  const pictures = new Map<string, HTMLImageElement>();
  for (const file of new Set(files)) {
    const image = new Image();
    image.src = pictureAt(view.production, file);
    await image.decode();
    pictures.set(file, image);
  }
  return { ...view, pictures };
};

const readChart = async (id: string): Promise<Chart> =>
  withPictures(
    (await answered(
      api.GET('/api/charts/{document_id}', { params: { ...pathOf(id), query: {} } }),
    )) as Schemas['ChartView'],
  );

/** Change a chart as it stands here. */
export async function changeChart(chart: Chart, edit: ChartEdit): Promise<readonly string[]> {
  const base = { base_revision: chart.revision, preview: false, token: newId(), known: null };
  const call = api.POST('/api/charts/{document_id}/edits', {
    params: pathOf(chart.id),
    body: { edit, ...base },
  });
  return ((await answered(call)) as Schemas['ChartOutcome']).notes;
}

export async function undoChart(chart: Chart): Promise<void> {
  const body = { base_revision: chart.revision };
  await answered(api.POST('/api/charts/{document_id}/undo', { params: pathOf(chart.id), body }));
}

/** A chart as it stands; it is asked for again where somebody changed it. */
export const chartQuery = (id: string) => ({
  queryKey: ['chart', id],
  queryFn: () => readChart(id),
});

/** The mouths of a line that has no chart: ours, which never change. */
export const ourMouthsQuery = (id: string) => ({
  queryKey: ['our mouths'],
  queryFn: async () =>
    (await answered(
      api.GET('/api/productions/{production_id}/our-mouths', { params: production(id) }),
    )) as Schemas['ChartMouths'],
  staleTime: Number.POSITIVE_INFINITY,
});
