import { useCallback, useEffect, useRef } from 'react';

/**
 * Keys can be pressed faster than answers come. While an edit is on its way, a number that is
 * nudged goes on from what was asked last, and not from what still stands.
 */
export function useAhead(isSaving: boolean) {
  const asked = useRef(new Map<string, number>());
  useEffect(() => {
    if (!isSaving) asked.current.clear();
  }, [isSaving]);
  return useCallback((what: string, standing: number, by: number): number => {
    const next = (asked.current.get(what) ?? standing) + by;
    asked.current.set(what, next);
    return next;
  }, []);
}
