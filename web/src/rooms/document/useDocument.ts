import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from 'react';
import { type Schemas, Trouble } from '../../api/client';
import type { Chosen } from '../../api/clips';
import { newId } from '../../api/newId';
import { useNotices } from '../../app/notices';
import { recall, remember } from '../../app/remembered';
import { saveAs } from '../../app/saveAs';
import { SESSION, signedInAgain } from '../../app/session';
import { libraryKey } from '../library/useLibrary';
import { EditLine, type LineState, type Sent, type Step } from './editLine';
import { documentKey, type Head, type Outcome, type Routes, type Viewed } from './routes';
import { useHeads } from './useHeads';
import { type Preview, usePreview } from './usePreview';

export interface DocumentState<View, Edit> {
  readonly view: View | undefined;
  readonly problem: unknown;
  /** What a drag would give, while it goes on. */
  readonly preview: Preview<View, Edit> | null;
  /** Where what the last edit was about lies, once it is made. */
  readonly landed: Chosen | null;
  readonly line: LineState<Edit>;
  /** Who changed the document while an edit was on its way, and how. */
  readonly theirs: Head | null;
  /** Make an edit; one that `follows` is about what the one before it was about. */
  readonly edit: (edit: Edit, follows?: boolean) => void;
  readonly showPreview: (edit: Edit | null) => void;
  readonly undo: () => void;
  readonly redo: () => void;
  readonly goBack: (revision: number) => Promise<void>;
  readonly decide: (again: boolean) => void;
  /** What becomes of an edit that could not be saved: once more, or without it. */
  readonly unstick: (again: boolean) => void;
  /** What is not saved, as a file. */
  readonly takeOut: () => void;
  /** See what stands now: the document was changed elsewhere. */
  readonly refresh: () => Promise<unknown>;
}

/** Where what is not saved yet is kept: for the person who made it. */
const waitingKey = (account: string, kind: string, id: string) =>
  `hours/waiting/${account}/${kind}/${id}`;

function useAccount(): string {
  const session = useQueryClient().getQueryData<Schemas['SessionState']>(SESSION);
  return session?.person?.account ?? '';
}

async function send<View extends Viewed, Edit>(
  routes: Routes<View, Edit>,
  id: string,
  step: Step<Edit>,
  known: View | undefined,
  landed: Chosen | null,
): Promise<Sent<Outcome<View>>> {
  const base = known?.revision ?? 0;
  try {
    if (step.kind === 'walk') {
      return { is: 'made', outcome: { view: await routes.walk(id, step.way, base), notes: [] } };
    }
    const edit =
      step.follows && landed ? (routes.follow?.(step.edit, landed) ?? step.edit) : step.edit;
    return { is: 'made', outcome: await routes.send(id, edit, base, step.token, known) };
  } catch (problem) {
    // Whatever it is, the server has not refused the edit: it stays.
    if (!(problem instanceof Trouble)) return { is: 'stuck', problem };
    if (problem.isUnreachable) return { is: 'unreachable' };
    if (problem.isSignedOut) return { is: 'signedOut' };
    if (problem.status === 409) return { is: 'late', problem };
    return { is: problem.isRefusal ? 'refused' : 'stuck', problem };
  }
}

/** A document as it stands here, and reading it again. */
function useStanding<View extends Viewed, Edit>(routes: Routes<View, Edit>, id: string) {
  const { kind } = routes;
  const queries = useQueryClient();
  const standing = useCallback(
    () => queries.getQueryData<View>(documentKey(kind, id)),
    [queries, kind, id],
  );
  const query = useQuery({
    queryKey: documentKey(kind, id),
    // Revisions only rise: an answer that was under way while an edit was made must not undo it here.
    queryFn: async () => {
      const read = await routes.read(id);
      const now = standing();
      return now && now.revision > read.revision ? now : read;
    },
  });
  const settle = useCallback(
    (view: View) => {
      queries.setQueryData(documentKey(kind, id), view);
      void queries.invalidateQueries({ queryKey: libraryKey(view.production) });
    },
    [queries, kind, id],
  );
  const reread = useCallback(
    () => queries.refetchQueries({ queryKey: documentKey(kind, id) }),
    [queries, kind, id],
  );
  return { query, standing, settle, reread };
}

/** A document and its edits; it looks every few seconds whether others have changed it. */
export function useDocument<View extends Viewed, Edit>(
  routes: Routes<View, Edit>,
  id: string,
): DocumentState<View, Edit> {
  const { kind } = routes;
  const account = useAccount();
  const notices = useNotices();
  const { query, standing, settle, reread } = useStanding(routes, id);
  const { preview, show, stopAsking, clear, isWished } = usePreview(routes, id, standing);
  const [landed, setLanded] = useState<Chosen | null>(null);
  const [theirs, setTheirs] = useState<Head | null>(null);

  const [line] = useState(
    () =>
      new EditLine<Outcome<View>, Edit>(
        {
          send: (step, before) => send(routes, id, step, standing(), before?.chosen ?? null),
          onMade: ({ view, notes, chosen }) => {
            settle(view);
            clear();
            // While more is on its way, only the last of them tells what is chosen in the end.
            if (chosen && !line.snapshot().waiting) setLanded(chosen);
            if (notes.length) notices.say(notes.join(' '));
          },
          onRefused: (problem) => {
            clear();
            notices.trouble(problem);
          },
          onLate: async (step, problem) => {
            clear();
            setTheirs(await routes.head(id).catch(() => null));
            await reread();
            if (step.kind === 'walk') notices.trouble(problem);
          },
          keep: (steps) => remember(waitingKey(account, kind, id), steps.length ? steps : null),
        },
        recall<Step<Edit>[]>(waitingKey(account, kind, id)) ?? [],
      ),
  );
  const lineState = useSyncExternalStore(line.subscribe, line.snapshot);
  const isHere = query.data !== undefined;
  useEffect(() => {
    if (isHere) line.resume();
    return line.stop;
  }, [line, isHere]);
  useEffect(() => signedInAgain.add(line.resume), [line]);
  const isBusy = useCallback(() => line.snapshot().waiting > 0 || isWished(), [line, isWished]);
  const isGone = useHeads({ routes, id, isHere, standing, isBusy, reread });

  const edit = useCallback(
    (wanted: Edit, follows = false) => {
      stopAsking();
      const step = { kind: 'edit', token: newId(), edit: wanted } as const;
      line.add(follows ? { ...step, follows: true } : step);
    },
    [line, stopAsking],
  );
  const step = useCallback(
    (way: 'undo' | 'redo') => line.add({ kind: 'walk', token: newId(), way }),
    [line],
  );
  const undo = useCallback(() => step('undo'), [step]);
  const redo = useCallback(() => step('redo'), [step]);
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
  const decide = useCallback(
    (again: boolean) => {
      setTheirs(null);
      line.decide(again);
    },
    [line],
  );

  const takeOut = useCallback(() => {
    saveAs(`${standing()?.name ?? kind} not saved.json`, { kind, document: id, steps: line.kept });
  }, [kind, id, line, standing]);

  const hands = useMemo(
    () => ({
      edit,
      showPreview: show,
      undo,
      redo,
      goBack,
      decide,
      unstick: line.unstick,
      takeOut,
      refresh: reread,
    }),
    [edit, show, undo, redo, goBack, decide, line, takeOut, reread],
  );
  const { data, error } = query;
  return useMemo(
    () => ({
      view: data,
      problem: error,
      preview,
      landed,
      line: lineState.waiting || !isGone ? lineState : { ...lineState, unreachable: true },
      theirs,
      ...hands,
    }),
    [data, error, preview, landed, lineState, isGone, theirs, hands],
  );
}
