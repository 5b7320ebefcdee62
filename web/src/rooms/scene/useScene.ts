import { QueryObserver, replaceEqualDeep, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { type Schemas, Trouble } from '../../api/client';
import { goBack as goBackTo, readHead, readScene, sendEdit, walk } from '../../api/scenes';
import { useNotices } from '../../app/notices';
import { recall, remember } from '../../app/remembered';
import { libraryKey } from '../library/useLibrary';
import { EditLine, type LineState, type Sent, type Step } from './editLine';
import { newId } from './newId';

export type Scene = Schemas['SceneView'];
export type Edit = Schemas['EditWanted']['edit'];
export type Outcome = Schemas['EditOutcome'];

export interface SceneState {
  readonly scene: Scene | undefined;
  readonly problem: unknown;
  /** What a drag would give, while it goes on. */
  readonly preview: { readonly edit: Edit; readonly scene: Scene } | null;
  readonly line: LineState;
  /** Who changed the scene while an edit was on its way, and how. */
  readonly theirs: Schemas['SceneHead'] | null;
  readonly edit: (edit: Edit) => void;
  readonly showPreview: (edit: Edit | null) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  readonly goBack: (revision: number) => Promise<void>;
  readonly decide: (again: boolean) => void;
  /** See what stands now: the scene was changed elsewhere. */
  readonly refresh: () => void;
}

export const sceneKey = (id: string) => ['scene', id];
const waitingKey = (id: string) => `hours/waiting/${id}`;
const LOOK_AGAIN_MS = 2500;

async function send(id: string, step: Step, base: number): Promise<Sent> {
  try {
    if (step.kind === 'walk') {
      return { is: 'made', scene: await walk(id, step.way, base), outcome: null };
    }
    const outcome = await sendEdit(id, step.edit, base, step.token);
    return { is: 'made', scene: outcome.scene, outcome };
  } catch (problem) {
    if (!(problem instanceof Trouble)) return { is: 'refused', problem };
    if (problem.isUnreachable) return { is: 'unreachable' };
    return { is: problem.status === 409 ? 'late' : 'refused', problem };
  }
}

/** A scene and its edits; it looks every few seconds whether others have changed it. */
export function useScene(id: string): SceneState {
  const queries = useQueryClient();
  const notices = useNotices();
  const query = useQuery({
    queryKey: sceneKey(id),
    queryFn: () => readScene(id),
  });
  const [preview, setPreview] = useState<SceneState['preview']>(null);
  const [theirs, setTheirs] = useState<SceneState['theirs']>(null);
  const previewing = useRef<{ wanted: Edit | null; busy: boolean }>({ wanted: null, busy: false });

  const standing = useCallback(() => queries.getQueryData<Scene>(sceneKey(id)), [queries, id]);
  const settle = useCallback(
    (scene: Scene) => {
      queries.setQueryData(sceneKey(id), scene);
      void queries.invalidateQueries({ queryKey: libraryKey(scene.production) });
    },
    [queries, id],
  );
  const reread = useCallback(
    () => queries.refetchQueries({ queryKey: sceneKey(id) }),
    [queries, id],
  );

  const [line] = useState(
    () =>
      new EditLine(
        {
          send: (step) => send(id, step, standing()?.revision ?? 0),
          onMade: (scene, outcome) => {
            settle(scene);
            setPreview(null);
            if (outcome?.notes.length) notices.say(outcome.notes.join(' '));
          },
          onRefused: (problem) => {
            setPreview(null);
            notices.trouble(problem);
          },
          onLate: async (step, problem) => {
            setPreview(null);
            setTheirs(await readHead(id).catch(() => null));
            await reread();
            if (step.kind === 'walk') notices.trouble(problem);
          },
          keep: (steps) => remember(waitingKey(id), steps.length ? steps : null),
        },
        recall<Step[]>(waitingKey(id)) ?? [],
      ),
  );
  const lineState = useSyncExternalStore(line.subscribe, line.snapshot);
  const isHere = query.data !== undefined;
  useEffect(() => {
    if (isHere) line.resume();
    return line.stop;
  }, [line, isHere]);

  // Watched outside React's rendering: an answer that says nothing new must not cost a frame of play.
  const [isGone, setGone] = useState(false);
  useEffect(() => {
    if (!isHere) return undefined;
    const observer = new QueryObserver(queries, {
      queryKey: ['scene head', id],
      refetchInterval: LOOK_AGAIN_MS,
      retry: false,
      queryFn: () => readHead(id),
    });
    return observer.subscribe(({ data: head, dataUpdatedAt, isError }) => {
      setGone(isError);
      const now = standing();
      if (!head || !now || head.revision === now.revision) return;
      if (line.snapshot().waiting || previewing.current.wanted) return;
      // Ours, made since this was asked, is known already and higher.
      if (dataUpdatedAt < (queries.getQueryState(sceneKey(id))?.dataUpdatedAt ?? 0)) return;
      void reread().then(() => notices.say(`${head.author}: ${head.label}.`));
    });
  }, [id, isHere, line, notices, queries, reread, standing]);

  const edit = useCallback(
    (wanted: Edit) => {
      previewing.current.wanted = null;
      line.add({ kind: 'edit', token: newId(), edit: wanted });
    },
    [line],
  );
  const step = useCallback(
    (way: 'undo' | 'redo') => line.add({ kind: 'walk', token: newId(), way }),
    [line],
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
            const now = standing();
            if (!now) return;
            try {
              const { scene } = await sendEdit(id, asked, now.revision, null);
              if (state.wanted) setPreview({ edit: asked, scene: replaceEqualDeep(now, scene) });
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

  const goBack = useCallback(
    async (revision: number) => {
      const now = standing();
      if (!now) return;
      try {
        settle(await goBackTo(id, revision, now.revision));
      } catch (problem) {
        notices.trouble(problem);
        await reread();
      }
    },
    [id, notices, reread, settle, standing],
  );

  const undo = useCallback(() => step('undo'), [step]);
  const redo = useCallback(() => step('redo'), [step]);
  const refresh = useCallback(() => void reread(), [reread]);
  const decide = useCallback(
    (again: boolean) => {
      setTheirs(null);
      line.decide(again);
    },
    [line],
  );

  return useMemo(
    () => ({
      scene: query.data,
      problem: query.error,
      preview,
      line: lineState.waiting || !isGone ? lineState : { ...lineState, unreachable: true },
      theirs,
      edit,
      showPreview,
      undo,
      redo,
      goBack,
      decide,
      refresh,
    }),
    [
      query.data,
      query.error,
      preview,
      lineState,
      isGone,
      theirs,
      edit,
      showPreview,
      undo,
      redo,
      goBack,
      decide,
      refresh,
    ],
  );
}
