import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useMemo, useRef, useState } from 'react';
import { answered, api, type Schemas, Trouble } from '../../api/client';
import { useNotices } from '../../app/notices';
import { libraryKey } from '../library/useLibrary';

export type Scene = Schemas['SceneView'];
export type Edit = Schemas['EditWanted']['edit'];
export type Outcome = Schemas['EditOutcome'];

export interface SceneState {
  readonly scene: Scene | undefined;
  readonly problem: unknown;
  /** What a drag would give, while it goes on. */
  readonly preview: { readonly edit: Edit; readonly outcome: Outcome } | null;
  readonly busy: boolean;
  readonly edit: (edit: Edit) => void;
  readonly showPreview: (edit: Edit | null) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  /** See what stands now: the scene was changed elsewhere. */
  readonly refresh: () => void;
}

const sceneKey = (id: string) => ['scene', id];
const pathOf = (id: string) => ({ path: { scene_id: id } });

const sendEdit = (id: string, edit: Edit, base: number, preview: boolean): Promise<Outcome> =>
  answered(
    api.POST('/api/scenes/{scene_id}/edits', {
      params: pathOf(id),
      body: { edit, base_revision: base, preview },
    }),
  );

/** A scene and its edits. Edits go out one after another, each on the revision that then stands. */
export function useScene(id: string): SceneState {
  const queries = useQueryClient();
  const notices = useNotices();
  const query = useQuery({
    queryKey: sceneKey(id),
    queryFn: () => answered(api.GET('/api/scenes/{scene_id}', { params: pathOf(id) })),
  });
  const [preview, setPreview] = useState<SceneState['preview']>(null);
  const [waiting, setWaiting] = useState(0);
  const line = useRef<Promise<void>>(Promise.resolve());
  const previewing = useRef<{ wanted: Edit | null; busy: boolean }>({ wanted: null, busy: false });

  const standing = useCallback(() => queries.getQueryData<Scene>(sceneKey(id)), [queries, id]);

  const settle = useCallback(
    (scene: Scene) => {
      queries.setQueryData(sceneKey(id), scene);
      void queries.invalidateQueries({ queryKey: libraryKey(scene.production) });
    },
    [queries, id],
  );

  const inLine = useCallback((step: () => Promise<void>) => {
    setWaiting((count) => count + 1);
    line.current = line.current.then(step).finally(() => setWaiting((count) => count - 1));
  }, []);

  const edit = useCallback(
    (wanted: Edit) => {
      previewing.current.wanted = null;
      inLine(async () => {
        const base = standing()?.revision;
        if (base === undefined) return;
        try {
          const outcome = await sendEdit(id, wanted, base, false);
          settle(outcome.scene);
          if (outcome.notes.length) notices.say(outcome.notes.join(' '));
        } catch (problem) {
          if (problem instanceof Trouble && problem.status === 409) {
            await queries.refetchQueries({ queryKey: sceneKey(id) });
            notices.trouble(
              new Error(
                'The scene was changed elsewhere, and you see it now. Your edit is not in it.',
              ),
              { label: 'Apply mine again', run: () => edit(wanted) },
            );
          } else notices.trouble(problem);
        } finally {
          setPreview(null);
        }
      });
    },
    [id, inLine, notices, queries, settle, standing],
  );

  const showPreview = useCallback(
    (wanted: Edit | null) => {
      const state = previewing.current;
      state.wanted = wanted;
      if (!wanted) setPreview(null);
      if (!wanted || state.busy) return;
      // One at a time, and always the newest: a fast hand never queues up old places.
      const run = async () => {
        state.busy = true;
        try {
          while (state.wanted) {
            const asked = state.wanted;
            const base = standing()?.revision;
            if (base === undefined) return;
            try {
              const outcome = await sendEdit(id, asked, base, true);
              if (state.wanted) setPreview({ edit: asked, outcome });
            } catch {
              // A place where it cannot lie: the last good one stays, and dropping it says why.
            }
            if (state.wanted === asked) return;
          }
        } finally {
          state.busy = false;
        }
      };
      void run();
    },
    [id, standing],
  );

  const walk = useCallback(
    (way: 'undo' | 'redo') => {
      inLine(async () => {
        const scene = standing();
        if (!scene?.[way]) return;
        const route = `/api/scenes/{scene_id}/${way}` as const;
        try {
          const body = { base_revision: scene.revision };
          settle(await answered(api.POST(route, { params: pathOf(id), body })));
        } catch (problem) {
          await queries.refetchQueries({ queryKey: sceneKey(id) });
          notices.trouble(problem);
        }
      });
    },
    [id, inLine, notices, queries, settle, standing],
  );

  const refresh = useCallback(
    () => void queries.refetchQueries({ queryKey: sceneKey(id) }),
    [queries, id],
  );
  const undo = useCallback(() => walk('undo'), [walk]);
  const redo = useCallback(() => walk('redo'), [walk]);

  return useMemo(
    () => ({
      scene: query.data,
      problem: query.error,
      preview,
      busy: waiting > 0,
      edit,
      showPreview,
      undo,
      redo,
      refresh,
    }),
    [query.data, query.error, preview, waiting, edit, showPreview, undo, redo, refresh],
  );
}
