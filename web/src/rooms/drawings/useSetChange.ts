import { useMutation, useQueryClient } from '@tanstack/react-query';
import { changeSet, type DrawnSet, type SetEdit, setQuery, undoSet } from '../../api/drawings';
import { useNotices } from '../../app/notices';

/** Changing a drawing set, and taking its last change back; the runs of it are read again. */
export function useSetChange(set: string, run: string) {
  const queries = useQueryClient();
  const notices = useNotices();
  const { queryKey } = setQuery(set);
  // Asked for when its turn comes: an edit is made on what the one before it left.
  const standing = () => queries.getQueryData<DrawnSet>(queryKey);
  const stands = async (now: DrawnSet) => {
    queries.setQueryData(queryKey, now);
    await queries.invalidateQueries({ queryKey: ['run', run] });
  };
  const settle = async () => {
    await queries.invalidateQueries({ queryKey });
    await queries.invalidateQueries({ queryKey: ['run', run] });
  };
  const trouble = (problem: unknown) => {
    notices.trouble(problem);
    void settle();
  };
  const scope = { id: `drawings ${set}` };
  const change = useMutation({
    scope,
    mutationFn: async (edit: SetEdit) => {
      const drawn = standing();
      return drawn ? changeSet(drawn, edit) : null;
    },
    onSuccess: async (outcome) => {
      if (!outcome) return;
      if (outcome.notes.length) notices.say(outcome.notes.join(' '));
      await stands(outcome.drawings);
    },
    onError: trouble,
  });
  const undo = useMutation({
    scope,
    mutationFn: async () => {
      const drawn = standing();
      return drawn ? undoSet(drawn) : null;
    },
    onSuccess: async (now) => {
      if (now) await stands(now);
    },
    onError: trouble,
  });
  return { change: change.mutate, undo: undo.mutate, settle };
}

export type SetHands = ReturnType<typeof useSetChange>;
