/** State that is still there after a reload, kept in this browser. */

import { useEffect, useState } from 'react';

export function recall<T>(key: string): T | null {
  try {
    const kept = localStorage.getItem(key);
    return kept === null ? null : (JSON.parse(kept) as T);
  } catch {
    return null;
  }
}

export function remember(key: string, value: unknown): void {
  try {
    if (value === null) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // A browser that keeps nothing still works; it only forgets.
  }
}

const SETTLE_MS = 150;

/** `useState` that outlives the page. What was kept is laid over `first`, field by field. */
export function useRemembered<T>(key: string, first: T) {
  const [value, setValue] = useState<T>(() => {
    const kept = recall<T>(key);
    if (kept === null) return first;
    const isRecord = typeof first === 'object' && first !== null && !Array.isArray(first);
    return isRecord ? { ...first, ...kept } : kept;
  });
  useEffect(() => {
    const timer = setTimeout(() => remember(key, value), SETTLE_MS);
    const atOnce = () => remember(key, value);
    window.addEventListener('pagehide', atOnce);
    return () => {
      clearTimeout(timer);
      window.removeEventListener('pagehide', atOnce);
    };
  }, [key, value]);
  return [value, setValue] as const;
}
