import { useEffect, useRef } from 'react';
import type { Player } from '../../player/player';

interface Actions {
  readonly player: Player;
  readonly undo: () => void;
  readonly redo: () => void;
  readonly remove: () => void;
  readonly split: () => void;
  readonly letGo: () => void;
}

/** The scene room's keys. They never fire while something is being written or a dialog is open. */
export function useSceneKeys(actions: Actions): void {
  const latest = useRef(actions);
  latest.current = actions;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const { player, undo, redo, remove, split, letGo } = latest.current;
      if (isWriting(event.target) || document.querySelector('.modal.show')) return;
      const control = event.ctrlKey || event.metaKey;
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const onButton = event.target instanceof HTMLButtonElement;
      if (control) {
        if (key === 'z') (event.shiftKey ? redo : undo)();
        else if (key === 'y') redo();
        else return;
      } else if (event.altKey) return;
      else if (key === ' ' && !onButton) player.toggle();
      else if (key === 'ArrowLeft') player.step(event.shiftKey ? -10 : -1);
      else if (key === 'ArrowRight') player.step(event.shiftKey ? 10 : 1);
      else if (key === 'Home') player.goTo(0);
      else if (key === 'End') player.goTo(player.snapshot().length - 1);
      else if (key === 'Delete') remove();
      else if (key === '/') split();
      else if (key === 'Escape') letGo();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}

function isWriting(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLInputElement ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement
  );
}
