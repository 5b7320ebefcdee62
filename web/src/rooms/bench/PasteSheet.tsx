import { useQuery } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { sentence } from '../../api/client';
import { type Clip, type ClipEdit, fitKeys } from '../../api/clips';
import { counted } from '../../app/counted';
import { FitTable, type Mapping } from '../../app/FitTable';
import type { Copied } from './keyClipboard';

export interface Paste {
  readonly copied: Copied;
  readonly frame: number;
  readonly mirrored: boolean;
}

interface PasteSheetProps {
  readonly clip: Clip;
  readonly paste: Paste;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onClose: () => void;
}

/** Keys of another figure: which joint plays which, and what is left out, before they are pasted. */
export function PasteSheet({ clip, paste, onEdit, onClose }: PasteSheetProps) {
  const { copied, frame, mirrored } = paste;
  const { bench } = clip;
  const [mapping, setMapping] = useState<Mapping | null>(null);
  const id = useId();
  const proposed = useFitted(clip, copied, null, true);
  const byHand = useFitted(clip, copied, mapping, mapping !== null);
  const fitted = mapping ? byHand : proposed;
  const found = fitted.data;
  const count = Object.values(found?.keys ?? {}).reduce((sum, row) => sum + row.length, 0);
  const shown = mapping ?? found?.mapping ?? {};
  const how = (joint: string) => {
    if (!shown[joint]) return 'left out';
    if (shown[joint] === joint) return 'by name';
    return shown[joint] === proposed.data?.mapping[joint] ? 'proposed' : 'by hand';
  };
  return (
    <Modal show onHide={onClose} aria-labelledby={id} className="paste-sheet">
      <Modal.Header closeButton>
        <Modal.Title id={id}>
          Paste onto {bench.figure_name}
          {mirrored && ', mirrored'}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {fitted.isError && <p className="refusal">{sentence(fitted.error)}</p>}
        {!found && !fitted.isError && <p className="quiet">Comparing the joints …</p>}
        {found && (
          <>
            <p>
              These keys were made for {found.figure_name}. Turns are kept relative to rest; the
              root goes by leg length.
            </p>
            <FitTable
              theirs={found.joints}
              own={bench.joints}
              of={found.figure_name}
              plays={bench.figure_name}
              mapping={shown}
              how={how}
              onMapping={setMapping}
            />
            {found.left_out.length > 0 && (
              <p className="says is-warning">Left out: {found.left_out.join(', ')}.</p>
            )}
            {found.notes.map((note) => (
              <p key={note} className="says is-warning">
                {note}
              </p>
            ))}
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <button type="button" className="btn btn-paper" onClick={onClose}>
          Cancel
        </button>
        <button
          type="button"
          className="btn btn-lamp"
          disabled={!found || fitted.isError || count === 0}
          onClick={() => {
            if (!found) return;
            onEdit({ kind: 'paste_keys', keys: found.keys, frame, mirrored, onto: {} });
            onClose();
          }}
        >
          Paste {counted(count, 'key')} at {frame}
        </button>
      </Modal.Footer>
    </Modal>
  );
}

function useFitted(clip: Clip, copied: Copied, mapping: Mapping | null, enabled: boolean) {
  return useQuery({
    queryKey: ['fitted keys', clip.id, clip.content, copied, mapping],
    enabled,
    placeholderData: (before) => before,
    retry: false,
    queryFn: () => fitKeys(clip.id, copied, mapping),
  });
}
