import type { UseQueryResult } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { type Schemas, sentence } from '../api/client';
import { FitSummary, proposedBy } from './FitSummary';
import type { Mapping } from './FitTable';

interface FitDialogProps {
  readonly title: string;
  readonly says: string;
  readonly fit: UseQueryResult<Schemas['FitView']>;
  /** How joints meet already; what is proposed where they do not. */
  readonly standing?: Mapping;
  readonly confirm: string;
  readonly onFit: (mapping: Mapping) => void;
  readonly onClose: () => void;
}

/** Before motion of another figure plays: what plays, what is dropped, what rests. */
export function FitDialog({ title, says, fit, standing, confirm, onFit, onClose }: FitDialogProps) {
  const [mapping, setMapping] = useState<Mapping>(standing ?? {});
  useEffect(() => {
    if (fit.data && !standing) setMapping(proposedBy(fit.data));
  }, [fit.data, standing]);
  const plays = Object.keys(mapping).length;
  return (
    <Modal show onHide={onClose} size="lg" aria-labelledby="fit-sheet-title" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="fit-sheet-title">{title}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {fit.isError && <p className="refusal">{sentence(fit.error)}</p>}
        {fit.isPending && <p className="quiet">Comparing the joints …</p>}
        {fit.data && (
          <>
            <p className="quiet">{says}</p>
            <FitSummary fit={fit.data} mapping={mapping} onMapping={setMapping} />
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        <button type="button" className="btn btn-paper" onClick={onClose}>
          Never mind
        </button>
        <button
          type="button"
          className="btn btn-lamp"
          disabled={plays === 0}
          onClick={() => onFit(mapping)}
        >
          {confirm}
        </button>
      </Modal.Footer>
    </Modal>
  );
}
