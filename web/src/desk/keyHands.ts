/** What is done on the desk to the keys of the camera and of guides. */

import type { PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { type Drawn, drawing } from './drawn';
import type { Selection } from './selection';

/** Whose keys: the camera’s, or a guide’s by its id. */
export type KeysOf = string | null;

type Edit = Schemas['EditWanted']['edit'];

export interface KeyActions {
  /** Choose a key by its frame, or all that they are keys of. */
  readonly chooseKey: (of: KeysOf, frame: number | null) => void;
  readonly grabKey: (event: PointerEvent, of: KeysOf, frame: number) => void;
  readonly nudgeKey: (of: KeysOf, frame: number, frames: number) => void;
  readonly removeKey: (of: KeysOf, frame: number) => void;
}

interface Latest extends Drawn {
  readonly mayChange: boolean;
  readonly onSelect: (selection: Selection | null) => void;
}

const chosen = (of: KeysOf, key: number | null): Selection =>
  of === null ? { kind: 'camera', key } : { kind: 'guide', id: of, key };

const movedKey = (of: KeysOf, frame: number, to: number): Edit =>
  of === null
    ? { kind: 'set_camera_key', frame, to }
    : { kind: 'set_guide_key', guide: of, frame, to };

export const removedKey = (of: KeysOf, frame: number): Edit =>
  of === null
    ? { kind: 'remove_camera_key', frame }
    : { kind: 'remove_guide_key', guide: of, frame };

export function keyHands(now: () => Latest): KeyActions {
  const { shiftOf, drawEdit } = drawing(now);
  const headOn = (of: KeysOf) => {
    const { desk, head } = now();
    const row = of === null ? desk.camera : desk.guides.find(({ id }) => id === of);
    return row ? head.on(row) : head;
  };
  const chooseKey = (of: KeysOf, frame: number | null) => {
    now().onSelect(chosen(of, frame));
    if (frame !== null) headOn(of).goTo(frame);
  };
  return {
    chooseKey,
    grabKey: (event, of, frame) => {
      event.stopPropagation();
      if (event.button !== 0) return;
      if (!now().mayChange) {
        chooseKey(of, frame);
        return;
      }
      drawEdit(
        event,
        (dx, _dy, moved) => {
          const frames = shiftOf(dx, moved, [frame], new Set(), headOn(of));
          return frames ? movedKey(of, frame, Math.max(0, frame + frames)) : null;
        },
        () => chooseKey(of, frame),
      );
    },
    nudgeKey: (of, frame, frames) => {
      const to = Math.max(0, frame + frames);
      now().onEdit(movedKey(of, frame, to));
      now().onSelect(chosen(of, to));
    },
    removeKey: (of, frame) => now().onEdit(removedKey(of, frame)),
  };
}
