import { useQuery } from '@tanstack/react-query';
import { answered, api } from '../../api/client';
import { FitDialog } from '../../app/FitDialog';
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
  return (
    <FitDialog
      title={`Fit ${what.name} to ${figure.name}`}
      says="It was made for another figure. What you confirm here holds for all clips of that figure in this scene; feet are held, so that they stand."
      fit={fit}
      confirm="Fit and lay it"
      onFit={onFit}
      onClose={onClose}
    />
  );
}
