import { useEffect, useRef } from 'react';
import { isWriting } from '../app/shortcuts';

/** X, Y or Z while it is held down: the axis of a turn. */
export function useHeldAxis() {
  const held = useRef<'x' | 'y' | 'z' | null>(null);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      const plain = !event.ctrlKey && !event.metaKey && !event.altKey && !isWriting(event.target);
      if (plain && (key === 'x' || key === 'y' || key === 'z')) held.current = key;
    };
    const up = () => {
      held.current = null;
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', up);
    };
  }, []);
  return held;
}
