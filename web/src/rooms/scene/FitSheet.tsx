import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { answered, api, sentence } from '../../api/client';
import { FitSummary, proposedBy } from '../../app/FitSummary';
import type { Mapping } from '../../app/FitTable';

/** What is fitted: a clip, or a group of stints. */
export interface Fitted {
  readonly kind: 'clip' | 'scene';
  readonly id: string;
  /** Whose part of the other scene. */
  readonly figure?: string;
  readonly name: string;
}

interface FitSheetProps {
  readonly scene: string;
  /** The clip or the group, and the figure of the scene that it is to play on. */
  readonly what: Fitted;
  readonly figure: { readonly id: string; readonly name: string };
  readonly onFit: (mapping: Mapping) => void;
  readonly onClose: () => void;
}

/** Before a clip of another figure plays: what plays, what is dropped, what rests. */
export function FitSheet({ scene, what, figure, onFit, onClose }: FitSheetProps) {
  const fit = useQuery({
    queryKey: ['scene fit', scene, figure.id, what.id, what.figure],
    staleTime: 0,
    queryFn: () =>
      answered(
        api.GET('/api/scenes/{document_id}/fit', {
          params: {
            path: { document_id: scene },
            query:
              what.kind === 'clip'
                ? { figure: figure.id, clip: what.id }
                : { figure: figure.id, group: what.id, part: what.figure ?? '' },
          },
        }),
      ),
  });
  const [mapping, setMapping] = useState<Mapping>({});
  useEffect(() => {
    if (fit.data) setMapping(proposedBy(fit.data));
  }, [fit.data]);
  const plays = Object.keys(mapping).length;
  return (
    <Modal show onHide={onClose} size="lg" aria-labelledby="fit-sheet-title" scrollable>
      <Modal.Header closeButton>
        <Modal.Title id="fit-sheet-title">
          Fit {what.name} to {figure.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {fit.isError && <p className="refusal">{sentence(fit.error)}</p>}
        {fit.isPending && <p className="quiet">Comparing the joints …</p>}
        {fit.data && (
          <>
            <p className="quiet">
              It was made for another figure. What you confirm here holds for all clips of that
              figure in this scene; feet are held, so that they stand.
            </p>
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
          Fit and lay it
        </button>
      </Modal.Footer>
    </Modal>
  );
}
