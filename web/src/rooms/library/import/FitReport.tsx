import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answered, api, sentence } from '../../../api/client';
import { FitSummary, proposedBy } from '../../../app/FitSummary';
import type { Mapping } from '../../../app/FitTable';

interface FitProps {
  readonly production: string;
  readonly file: string;
  readonly figure: string;
  readonly metresPerUnit: number;
  readonly mapping: Mapping;
  readonly onMapping: (mapping: Mapping) => void;
}

/** What plays, what is dropped, what rests: every joint named, and every meeting open to change. */
export function FitReport(props: FitProps) {
  const { production, file, figure, metresPerUnit, mapping, onMapping } = props;
  const fit = useQuery({
    queryKey: ['fit', production, file, figure, metresPerUnit],
    placeholderData: (before) => before,
    staleTime: 0,
    queryFn: () =>
      answered(
        api.GET('/api/productions/{production_id}/files/{sha256}/fit', {
          params: {
            path: { production_id: production, sha256: file },
            query: { figure, metres_per_unit: metresPerUnit },
          },
        }),
      ),
  });
  const isEmpty = Object.keys(mapping).length === 0;
  useEffect(() => {
    if (fit.data && isEmpty) onMapping(proposedBy(fit.data));
  }, [fit.data, isEmpty, onMapping]);
  if (fit.isError) return <p className="refusal">{sentence(fit.error)}</p>;
  if (!fit.data) return <p className="quiet">Comparing the joints …</p>;
  return <FitSummary fit={fit.data} mapping={mapping} onMapping={onMapping} />;
}
