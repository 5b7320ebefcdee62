import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answered, api, type Schemas, sentence } from '../../../api/client';
import { FitTable, type Mapping } from '../../../app/FitTable';

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
  const { plays, clip_joints, figure_joints, figure_name, leg_ratio } = fit.data;
  const known = new Set(plays.map((pair) => pair.clip_joint));
  const proposed = new Set(fit.data.proposed.map((pair) => pair.clip_joint));
  const played = new Set(Object.values(mapping));
  const rests = figure_joints.filter(({ name }) => !played.has(name));
  const dropped = clip_joints.filter((joint) => !mapping[joint]);
  const how = (joint: string) => {
    if (!mapping[joint]) return 'dropped';
    if (known.has(joint)) return 'by name';
    return proposed.has(joint) ? 'proposed' : 'by hand';
  };
  return (
    <section className="fit-report" aria-label={`Fit to ${figure_name}`}>
      <p>
        <b className="number">{clip_joints.length - dropped.length}</b> play,{' '}
        <b className="number">{dropped.length}</b> are dropped,{' '}
        <b className="number">{rests.length}</b> of {figure_name}’s rest.{' '}
        <span className="quiet">
          Path and height by leg length, {Math.round(leg_ratio * 100)} %.
        </span>
      </p>
      <FitTable
        theirs={clip_joints}
        own={figure_joints}
        of="the clip"
        plays={figure_name}
        mapping={mapping}
        how={how}
        onMapping={onMapping}
      />
      {rests.length > 0 && (
        <p className="says is-warning">
          These rest:{' '}
          {rests
            .slice(0, 8)
            .map(({ label }) => label)
            .join(', ')}
          {rests.length > 8 && ` and ${rests.length - 8} more`}.
        </p>
      )}
    </section>
  );
}

const proposedBy = (fit: Schemas['FitView']): Mapping =>
  Object.fromEntries(
    [...fit.plays, ...fit.proposed].map((pair) => [pair.clip_joint, pair.figure_joint]),
  );
