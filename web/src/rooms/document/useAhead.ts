import { useRef } from 'react';

/**
 * Keys can be pressed faster than answers come. While an edit is on its way, a number that is
 * nudged goes on from what was asked last, and not from what still stands.
 */
export function useAhead(isSaving: boolean) {
  const asked = useRef(new Map<string, number>());
  return (what: string, standing: number, by: number): number => {
    if (!isSaving) asked.current.clear();
    const next = (asked.current.get(what) ?? standing) + by;
    asked.current.set(what, next);
    return next;
  };
}
