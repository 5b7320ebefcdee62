import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answered, api, type Schemas, sentence } from '../../../api/client';

type Mapping = Readonly<Record<string, string>>;

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
  const rests = figure_joints.filter((joint) => !played.has(joint));
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
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable */}
      <section className="fit-table" tabIndex={0} aria-label="Joints">
        <table>
          <thead>
            <tr>
              <th>Of the clip</th>
              <th>plays {figure_name}’s</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {clip_joints.map((joint) => (
              <tr key={joint} className={mapping[joint] ? '' : 'is-dropped'}>
                <td>{joint}</td>
                <td>
                  <select
                    aria-label={`${joint} plays`}
                    value={mapping[joint] ?? ''}
                    onChange={(event) => onMapping(changed(mapping, joint, event.target.value))}
                  >
                    <option value="">nothing</option>
                    {figure_joints.map((own) => (
                      <option key={own} value={own}>
                        {own}
                      </option>
                    ))}
                  </select>
                </td>
                <td className="quiet">{how(joint)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      {rests.length > 0 && (
        <p className="says is-warning">
          These rest: {rests.slice(0, 8).join(', ')}
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

/** A joint of the figure is played by one: the newest meeting takes it from another. */
function changed(mapping: Mapping, joint: string, own: string): Mapping {
  const others = Object.entries(mapping).filter(
    ([theirs, taken]) => theirs !== joint && taken !== own,
  );
  return Object.fromEntries(own ? [...others, [joint, own]] : others);
}
