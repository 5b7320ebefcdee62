/** The scene routes. The client widens the tuples of the schema to lists; here they are tuples again. */

import { answered, api, type Schemas } from './client';

type Scene = Schemas['SceneView'];
type Outcome = Schemas['EditOutcome'];
type Edit = Schemas['EditWanted']['edit'];

const pathOf = (id: string) => ({ path: { scene_id: id } });

export async function readScene(id: string, revision: number | null = null): Promise<Scene> {
  const params = { ...pathOf(id), query: { revision } };
  return (await answered(api.GET('/api/scenes/{scene_id}', { params }))) as Scene;
}

export const readHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/scenes/{scene_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. */
export async function sendEdit(
  id: string,
  edit: Edit,
  base: number,
  token: string | null,
): Promise<Outcome> {
  const body = { edit, base_revision: base, preview: token === null, token };
  const call = api.POST('/api/scenes/{scene_id}/edits', { params: pathOf(id), body });
  return (await answered(call)) as Outcome;
}

export async function walk(id: string, way: 'undo' | 'redo', base: number): Promise<Scene> {
  const route = `/api/scenes/{scene_id}/${way}` as const;
  const body = { base_revision: base };
  return (await answered(api.POST(route, { params: pathOf(id), body }))) as Scene;
}

export async function goBack(id: string, revision: number, base: number): Promise<Scene> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/scenes/{scene_id}/go-back', { params: pathOf(id), body });
  return (await answered(call)) as Scene;
}
