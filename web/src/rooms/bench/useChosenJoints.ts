import { useCallback, useMemo } from 'react';
import type { Clip } from '../../api/clips';
import type { BenchMemory } from './benchMemory';

type SetMemory = (change: (old: BenchMemory) => BenchMemory) => void;

/** The chosen joints that the figure has; picked one by one, or added to. */
export function useChosenJoints(
  bench: Clip['bench'],
  remembered: readonly string[],
  setMemory: SetMemory,
) {
  const joints = useMemo(
    () => remembered.filter((name) => bench.joints.some((joint) => joint.name === name)),
    [remembered, bench.joints],
  );
  const chooseJoints = useCallback(
    (chosen: readonly string[]) => setMemory((old) => ({ ...old, chosen })),
    [setMemory],
  );
  const pickJoint = useCallback(
    (joint: string, adding: boolean) =>
      setMemory((old) => {
        if (!adding) return { ...old, chosen: [joint] };
        const has = old.chosen.includes(joint);
        const next = has ? old.chosen.filter((name) => name !== joint) : [...old.chosen, joint];
        return { ...old, chosen: next };
      }),
    [setMemory],
  );
  return { joints, chooseJoints, pickJoint };
}
