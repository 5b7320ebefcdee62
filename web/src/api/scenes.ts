/** The scene routes. The client widens the tuples of the schema to lists; here they are tuples again. */

import { answered, api, type Schemas } from './client';
import { merged } from './merged';

type Scene = Schemas['SceneView'];
type Outcome = Schemas['EditOutcome'];
type Edit = Schemas['EditWanted']['edit'];

const pathOf = (id: string) => ({ path: { document_id: id } });

export async function readScene(id: string, revision: number | null = null): Promise<Scene> {
  const params = { ...pathOf(id), query: { revision } };
  return (await answered(api.GET('/api/scenes/{document_id}', { params }))) as Scene;
}

export const readHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/scenes/{document_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. Lanes that lie as in the known scene do
 * not come again. */
export async function sendEdit(
  id: string,
  edit: Edit,
  base: number,
  token: string | null,
  known?: Scene,
): Promise<Outcome> {
  const preview = token === null;
  const body = { edit, base_revision: base, preview, token, known: known?.content ?? null };
  const call = api.POST('/api/scenes/{document_id}/edits', { params: pathOf(id), body });
  const outcome = (await answered(call)) as Outcome;
  const { desk } = outcome.scene;
  const lanes = merged(desk.lane_ids, (lane) => lane.id, desk.lanes, known?.desk.lanes);
  return { ...outcome, scene: { ...outcome.scene, desk: { ...desk, lanes } } };
}

export async function walk(id: string, way: 'undo' | 'redo', base: number): Promise<Scene> {
  const route = `/api/scenes/{document_id}/${way}` as const;
  const body = { base_revision: base };
  return (await answered(api.POST(route, { params: pathOf(id), body }))) as Scene;
}

export async function goBack(id: string, revision: number, base: number): Promise<Scene> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/scenes/{document_id}/go-back', { params: pathOf(id), body });
  return (await answered(call)) as Scene;
}

/** A stint as it plays, baked into a clip. */
export const bakeStint = (id: string, body: Schemas['BakeWanted']): Promise<Schemas['BakeMade']> =>
  answered(api.POST('/api/scenes/{document_id}/bakes', { params: pathOf(id), body }));

/** A run of stints kept as a scene of its own, for a stint to play. */
export const keepGroup = (
  id: string,
  body: Schemas['GroupWanted'],
): Promise<Schemas['GroupMade']> =>
  answered(api.POST('/api/scenes/{document_id}/groups', { params: pathOf(id), body }));
