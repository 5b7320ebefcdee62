import { type FormEvent, useId, useState } from 'react';
import { Modal } from 'react-bootstrap';
import type { Clip, ClipEdit } from '../../api/clips';
import type { Player } from '../../player/player';

interface NamePoseProps {
  readonly player: Player;
  readonly bench: Clip['bench'];
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onClose: () => void;
}

const USUAL = ['Contact', 'Down', 'Passing', 'Up', 'Extreme', 'Breakdown'];

/** What the pose at the playhead is called; an empty name takes it off. */
export function NamePose({ player, bench, onEdit, onClose }: NamePoseProps) {
  const [frame] = useState(player.frame);
  const known = bench.poses.find((named) => named.frame === frame)?.name ?? '';
  const [name, setName] = useState(known);
  const id = useId();
  const keep = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim() !== known) onEdit({ kind: 'name_pose', frame, name: name.trim() || null });
    onClose();
  };
  return (
    <Modal show onHide={onClose} size="sm" aria-labelledby={`${id}-title`}>
      <form onSubmit={keep}>
        <Modal.Header closeButton>
          <Modal.Title id={`${id}-title`}>Name frame {frame}</Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <label className="form-label" htmlFor={id}>
            Name of the pose
          </label>
          <input
            id={id}
            className="form-control"
            list={`${id}-usual`}
            maxLength={40}
            value={name}
            // biome-ignore lint/a11y/noAutofocus: the dialog was opened to write this
            autoFocus
            onChange={(event) => setName(event.target.value)}
          />
          <datalist id={`${id}-usual`}>
            {USUAL.map((usual) => (
              <option key={usual} value={usual} />
            ))}
          </datalist>
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp">
            Name it
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
