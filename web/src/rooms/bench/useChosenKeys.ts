import { useCallback, useEffect, useMemo, useState } from 'react';
import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import { isSameChoice, stillKeyed } from './sheet';
import type { BenchState } from './useBench';

/**
 * The chosen keys. They go along with an edit, to where the server says that they landed; but what is
 * chosen by hand while the edit is on its way stays chosen.
 */
export function useChosenKeys(state: BenchState, bench: Clip['bench']) {
  const [choice, setChoice] = useState<{ readonly keys: Chosen; readonly isNewer: boolean }>({
    keys: {},
    isNewer: false,
  });
  const choose = useCallback((keys: Chosen) => setChoice({ keys, isNewer: true }), []);
  const goAlong = useCallback(() => setChoice(({ keys }) => ({ keys, isNewer: false })), []);

  const { preview, landed } = state;
  const isSaving = state.line.waiting > 0;
  useEffect(() => {
    if (landed) setChoice((old) => (old.isNewer ? old : { keys: landed, isNewer: false }));
  }, [landed]);
  const keys = useMemo(() => {
    if (preview) return (!choice.isNewer && preview.chosen) || choice.keys;
    // While an edit is on its way the clip does not yet say where they are.
    return isSaving ? choice.keys : stillKeyed(bench, choice.keys);
  }, [preview, isSaving, bench, choice]);

  const onEdit = useCallback(
    (edit: ClipEdit) => {
      goAlong();
      // Pressed again before the answer: about the same keys, wherever they have landed by then.
      const about = 'chosen' in edit ? edit.chosen : null;
      const isAboutThem = about !== null && isSameChoice(about, choice.keys);
      state.edit(edit, isSaving && !choice.isNewer && isAboutThem);
    },
    [goAlong, state.edit, isSaving, choice],
  );
  const onPreview = useCallback(
    (edit: ClipEdit | null) => {
      if (edit) goAlong();
      state.showPreview(edit);
    },
    [goAlong, state.showPreview],
  );
  return { keys, choose, onEdit, onPreview };
}
