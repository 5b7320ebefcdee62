import { QueryObserver, replaceEqualDeep, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { type Schemas, Trouble } from '../../api/client';
import type { Chosen } from '../../api/clips';
import { newId } from '../../api/newId';
import { useNotices } from '../../app/notices';
import { recall, remember } from '../../app/remembered';
import { libraryKey } from '../library/useLibrary';
import { EditLine, type LineState, type Sent, type Step } from './editLine';
import { Newest } from './newest';

type Head = Schemas['DocumentHead'];

/** What every document's view tells. */
export interface Viewed {
  readonly id: string;
  readonly production: string;
  readonly revision: number;
  readonly made_from?: string;
}

interface Outcome<View> {
  readonly view: View;
  readonly notes: readonly string[];
  /** Where what the edit was about lies now, where it says so. */
  readonly chosen?: Chosen | null;
}

/** How one kind of document is read and changed. */
export interface Routes<View, Edit> {
  readonly kind: 'scene' | 'clip';
  readonly read: (id: string) => Promise<View>;
  readonly head: (id: string) => Promise<Head>;
  /** Make an edit; without a token only say what it would give. What is known need not come again. */
  readonly send: (
    id: string,
    edit: Edit,
    base: number,
    token: string | null,
    known?: View,
  ) => Promise<Outcome<View>>;
  readonly walk: (id: string, way: 'undo' | 'redo', base: number) => Promise<View>;
  readonly goBack: (id: string, revision: number, base: number) => Promise<View>;
}

export interface DocumentState<View, Edit> {
  readonly view: View | undefined;
  readonly problem: unknown;
  /** What a drag would give, while it goes on. */
  readonly preview: {
    readonly edit: Edit;
    readonly view: View;
    readonly chosen: Chosen | null;
  } | null;
  /** Where what the last edit was about lies, once it is made. */
  readonly landed: Chosen | null;
  readonly line: LineState<Edit>;
  /** Who changed the document while an edit was on its way, and how. */
  readonly theirs: Head | null;
  readonly edit: (edit: Edit) => void;
  readonly showPreview: (edit: Edit | null) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  readonly goBack: (revision: number) => Promise<void>;
  readonly decide: (again: boolean) => void;
  /** See what stands now: the document was changed elsewhere. */
  readonly refresh: () => Promise<unknown>;
}

const keyOf = (kind: string, id: string) => [kind, id];
const waitingKey = (kind: string, id: string) =>
  kind === 'scene' ? `hours/waiting/${id}` : `hours/waiting/${kind}/${id}`;
const LOOK_AGAIN_MS = 2500;

async function send<View extends Viewed, Edit>(
  routes: Routes<View, Edit>,
  id: string,
  step: Step<Edit>,
  known: View | undefined,
): Promise<Sent<Outcome<View>>> {
  const base = known?.revision ?? 0;
  try {
    if (step.kind === 'walk') {
      return { is: 'made', outcome: { view: await routes.walk(id, step.way, base), notes: [] } };
    }
    return { is: 'made', outcome: await routes.send(id, step.edit, base, step.token, known) };
  } catch (problem) {
    if (!(problem instanceof Trouble)) return { is: 'refused', problem };
    if (problem.isUnreachable) return { is: 'unreachable' };
    return { is: problem.status === 409 ? 'late' : 'refused', problem };
  }
}

/** A document and its edits; it looks every few seconds whether others have changed it. */
export function useDocument<View extends Viewed, Edit>(
  routes: Routes<View, Edit>,
  id: string,
): DocumentState<View, Edit> {
  const { kind } = routes;
  const queries = useQueryClient();
  const notices = useNotices();
  const standing = useCallback(
    () => queries.getQueryData<View>(keyOf(kind, id)),
    [queries, kind, id],
  );
  const query = useQuery({
    queryKey: keyOf(kind, id),
    // Revisions only rise: an answer that was under way while an edit was made must not undo it here.
    queryFn: async () => {
      const read = await routes.read(id);
      const now = standing();
      return now && now.revision > read.revision ? now : read;
    },
  });
  const [preview, setPreview] = useState<DocumentState<View, Edit>['preview']>(null);
  const [landed, setLanded] = useState<Chosen | null>(null);
  const [theirs, setTheirs] = useState<Head | null>(null);
  const [previewing] = useState(() => {
    const newest: Newest<Edit> = new Newest(async (asked) => {
      const now = standing();
      if (!now) return;
      const { view, chosen } = await routes.send(id, asked, now.revision, null, now);
      if (newest.wish)
        setPreview({ edit: asked, view: replaceEqualDeep(now, view), chosen: chosen ?? null });
    });
    return newest;
  });

  const settle = useCallback(
    (view: View) => {
      queries.setQueryData(keyOf(kind, id), view);
      void queries.invalidateQueries({ queryKey: libraryKey(view.production) });
    },
    [queries, kind, id],
  );
  const reread = useCallback(
    () => queries.refetchQueries({ queryKey: keyOf(kind, id) }),
    [queries, kind, id],
  );

  const [line] = useState(
    () =>
      new EditLine<Outcome<View>, Edit>(
        {
          send: (step) => send(routes, id, step, standing()),
          onMade: ({ view, notes, chosen }) => {
            settle(view);
            setPreview(null);
            // While more is on its way, only the last of them tells what is chosen in the end.
            if (chosen && !line.snapshot().waiting) setLanded(chosen);
            if (notes.length) notices.say(notes.join(' '));
          },
          onRefused: (problem) => {
            setPreview(null);
            notices.trouble(problem);
          },
          onLate: async (step, problem) => {
            setPreview(null);
            setTheirs(await routes.head(id).catch(() => null));
            await reread();
            if (step.kind === 'walk') notices.trouble(problem);
          },
          keep: (steps) => remember(waitingKey(kind, id), steps.length ? steps : null),
        },
        recall<Step<Edit>[]>(waitingKey(kind, id)) ?? [],
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
      queryKey: [`${kind} head`, id],
      refetchInterval: LOOK_AGAIN_MS,
      retry: false,
      queryFn: () => routes.head(id),
    });
    return observer.subscribe(({ data: head, dataUpdatedAt, isError }) => {
      setGone(isError);
      const now = standing();
      // An answer from before our own last edit is no news.
      if (!head || !now || head.revision < now.revision) return;
      const isSame = head.revision === now.revision;
      if (isSame && (now.made_from ?? '') === head.made_from) return;
      if (line.snapshot().waiting || previewing.wish) return;
      // Nor is one from before the document was last read, whose clips it knew.
      if (dataUpdatedAt < (queries.getQueryState(keyOf(kind, id))?.dataUpdatedAt ?? 0)) return;
      const says = isSame ? 'A clip of this scene has changed.' : `${head.author}: ${head.label}.`;
      void reread().then(() => notices.say(says));
    });
  }, [kind, routes, id, isHere, line, notices, queries, reread, standing, previewing]);

  const edit = useCallback(
    (wanted: Edit) => {
      previewing.drop();
      line.add({ kind: 'edit', token: newId(), edit: wanted });
    },
    [line, previewing],
  );
  const step = useCallback(
    (way: 'undo' | 'redo') => line.add({ kind: 'walk', token: newId(), way }),
    [line],
  );

  const showPreview = useCallback(
    (wanted: Edit | null) => {
      if (wanted) void previewing.want(wanted);
      else {
        previewing.drop();
        setPreview(null);
      }
    },
    [previewing],
  );

  const goBack = useCallback(
    async (revision: number) => {
      const now = standing();
      if (!now) return;
      try {
        settle(await routes.goBack(id, revision, now.revision));
      } catch (problem) {
        notices.trouble(problem);
        await reread();
      }
    },
    [routes, id, notices, reread, settle, standing],
  );

  const undo = useCallback(() => step('undo'), [step]);
  const redo = useCallback(() => step('redo'), [step]);
  const decide = useCallback(
    (again: boolean) => {
      setTheirs(null);
      line.decide(again);
    },
    [line],
  );

  return useMemo(
    () => ({
      view: query.data,
      problem: query.error,
      preview,
      landed,
      line: lineState.waiting || !isGone ? lineState : { ...lineState, unreachable: true },
      theirs,
      edit,
      showPreview,
      undo,
      redo,
      goBack,
      decide,
      refresh: reread,
    }),
    [
      query.data,
      query.error,
      preview,
      landed,
      lineState,
      isGone,
      theirs,
      edit,
      showPreview,
      undo,
      redo,
      goBack,
      decide,
      reread,
    ],
  );
}
