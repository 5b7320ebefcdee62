import { useMutation, useQueryClient } from '@tanstack/react-query';
import { changeSet, type DrawnSet, type SetEdit, undoSet } from '../../api/drawings';
import { useNotices } from '../../app/notices';

/** Changing a drawing set, and taking its last change back; the runs of it are read again. */
export function useSetChange(drawn: DrawnSet | null, run: string) {
  const queries = useQueryClient();
  const notices = useNotices();
  const settle = async () => {
    await queries.invalidateQueries({ queryKey: ['drawings', drawn?.id] });
    await queries.invalidateQueries({ queryKey: ['run', run] });
  };
  const change = useMutation({
    mutationFn: async (edit: SetEdit) => (drawn ? changeSet(drawn, edit) : []),
    onSuccess: (notes) => {
      if (notes.length) notices.say(notes.join(' '));
    },
    onError: (problem) => notices.trouble(problem),
    onSettled: settle,
  });
  const undo = useMutation({
    mutationFn: async () => drawn && undoSet(drawn),
    onError: (problem) => notices.trouble(problem),
    onSettled: settle,
  });
  return { change: change.mutate, undo: undo.mutate, settle, isBusy: change.isPending };
}

export type SetHands = ReturnType<typeof useSetChange>;
