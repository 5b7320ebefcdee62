import { useState } from 'react';
import { newId } from '../../../api/newId';
import { keepGroup } from '../../../api/scenes';
import { useNotices } from '../../../app/notices';
import { choosing, type Selection } from '../../../desk/selection';
import type { Edit } from '../useScene';

interface KeepGroupProps {
  readonly scene: string;
  readonly stints: readonly string[];
  readonly disabled: boolean;
  readonly onEdit: (edit: Edit) => void;
  readonly onSelect: (selection: Selection | null) => void;
}

/** A run of stints kept under a name as one: it plays exactly as it lay, and follows its parts. */
export function KeepGroup({ scene, stints, disabled, onEdit, onSelect }: KeepGroupProps) {
  const notices = useNotices();
  const [name, setName] = useState('');
  const [isBusy, setBusy] = useState(false);
  const keep = async () => {
    setBusy(true);
    try {
      const made = await keepGroup(scene, { stints: [...stints], name: name.trim() });
      const stint = newId();
      const source = { kind: 'scene', id: made.scene, figure: made.figure } as const;
      onEdit({ kind: 'use_group', stints: [...stints], stint, source });
      onSelect(choosing([stint]));
    } catch (problem) {
      notices.trouble(problem);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className="keep-group"
      aria-label="Keep as a group"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <h3>
        A group <em>kept as one, with its joins</em>
      </h3>
      <div className="field-line">
        <input
          className="form-control"
          aria-label="Name of the group"
          placeholder="Its name"
          maxLength={120}
          value={name}
          disabled={disabled || isBusy}
          onChange={(event) => setName(event.target.value)}
        />
        <button
          type="submit"
          className="btn btn-paper"
          disabled={disabled || isBusy || !name.trim()}
          title="It becomes one stint; open it to change its parts, wherever it is used"
        >
          Keep
        </button>
      </div>
    </form>
  );
}
