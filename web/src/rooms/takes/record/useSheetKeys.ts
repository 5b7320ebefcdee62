import { useEffect, useRef } from 'react';
import { MOVES, type Move } from '../../../api/stage';
import { isWriting } from '../../../app/shortcuts';

interface SheetHands {
  readonly record: () => void;
  readonly throwAway: () => void;
  readonly ask: (move: Move) => void;
}

/** R records and stops, X throws away, 1 to 5 ask for a move: over a sheet the room's own keys are silent. */
export function useSheetKeys(hands: SheetHands): void {
  const latest = useRef(hands);
  latest.current = hands;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      if (isWriting(event.target)) return;
      const key = event.key.toLowerCase();
      const move = MOVES[Number(key) - 1];
      if (key === 'r') latest.current.record();
      else if (key === 'x') latest.current.throwAway();
      else if (move) latest.current.ask(move);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}
