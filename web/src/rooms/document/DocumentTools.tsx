import { IconButton } from '../../app/controls';
import type { DocumentState } from './useDocument';

/** A label with the key that does the same in this room. */
export type Keyed = (label: string, action: 'undo' | 'redo' | 'history' | 'keys') => string;

interface ToolsProps {
  readonly state: Pick<DocumentState<unknown, unknown>, 'undo' | 'redo'>;
  readonly standing: {
    readonly may_change: boolean;
    readonly undo: string | null;
    readonly redo: string | null;
  };
  readonly withKey: Keyed;
  readonly onHistory: () => void;
  readonly onKeys: () => void;
}

/** Undo and redo by name, the history, the room's keys. */
export function DocumentTools({ state, standing, withKey, onHistory, onKeys }: ToolsProps) {
  const { undo, redo } = standing;
  return (
    <span className="d-inline-flex ms-2 gap-1">
      {standing.may_change && (
        <>
          <IconButton
            icon="arrow-counterclockwise"
            label={undo ? withKey(`Undo: ${undo}`, 'undo') : 'Nothing to undo'}
            disabled={!undo}
            onClick={state.undo}
          />
          <IconButton
            icon="arrow-clockwise"
            label={redo ? withKey(`Redo: ${redo}`, 'redo') : 'Nothing to redo'}
            disabled={!redo}
            onClick={state.redo}
          />
        </>
      )}
      <IconButton icon="clock-history" label={withKey('History', 'history')} onClick={onHistory} />
      <IconButton icon="keyboard" label={withKey('Keys of this room', 'keys')} onClick={onKeys} />
    </span>
  );
}
