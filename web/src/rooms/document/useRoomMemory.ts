import { useCallback } from 'react';
import { useRemembered } from '../../app/remembered';
import type { StageView } from '../../stage/scene';

/** How a room was left, and how to change it. */
export function useRoomMemory<Memory extends { readonly view: StageView }>(
  key: string,
  first: Memory,
) {
  const [memory, setMemory] = useRemembered<Memory>(key, first);
  const change = useCallback(
    (part: Partial<Memory>) => setMemory((old) => ({ ...old, ...part })),
    [setMemory],
  );
  const onView = useCallback(
    (part: Partial<StageView>) => setMemory((old) => ({ ...old, view: { ...old.view, ...part } })),
    [setMemory],
  );
  return { memory, setMemory, change, onView };
}
