import type { Schemas } from '../../api/client';
import { goBack, readHead, readScene, sendEdit, walk } from '../../api/scenes';
import type { Routes } from '../document/routes';
import { type DocumentState, useDocument } from '../document/useDocument';

export type Scene = Schemas['SceneView'];
export type Edit = Schemas['EditWanted']['edit'];
export type SceneState = DocumentState<Scene, Edit>;

const ROUTES: Routes<Scene, Edit> = {
  kind: 'scene',
  read: readScene,
  head: readHead,
  send: async (id, edit, base, token, known) => {
    const { scene, notes } = await sendEdit(id, edit, base, token, known);
    return { view: scene, notes };
  },
  walk,
  goBack,
};

/** A scene and its edits. */
export const useScene = (id: string): SceneState => useDocument(ROUTES, id);
