import { useQuery } from '@tanstack/react-query';
import { takeFit } from '../../../api/takes';
import { FitDialog } from '../../../app/FitDialog';
import type { Mapping } from '../../../app/FitTable';
import type { TakesRoomParts } from '../room';

interface SheetProps {
  readonly room: TakesRoomParts;
  readonly figure: string;
  readonly standing: Mapping;
  readonly onFit: (mapping: Mapping) => void;
  readonly onClose: () => void;
}

/** Which joint of the take plays which of the figure’s. */
export function MappingSheet({ room, figure, standing, onFit, onClose }: SheetProps) {
  const { take } = room;
  const fit = useQuery({
    queryKey: ['take fit', take.id, figure],
    queryFn: () => takeFit(take.id, figure),
  });
  return (
    <FitDialog
      title={`Fit ${take.name} to ${fit.data?.figure_name ?? 'the figure'}`}
      says="What you confirm here is remembered for the next take of this skeleton."
      fit={fit}
      standing={standing}
      confirm="Fit it so"
      onFit={onFit}
      onClose={onClose}
    />
  );
}
