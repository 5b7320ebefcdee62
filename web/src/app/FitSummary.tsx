import type { Schemas } from '../api/client';
import { FitTable, type Mapping } from './FitTable';

const MOST_NAMED = 8;

interface FitSummaryProps {
  readonly fit: Schemas['FitView'];
  readonly mapping: Mapping;
  readonly onMapping: (mapping: Mapping) => void;
}

/** What plays, what is dropped, what rests: every joint named, and every meeting open to change. */
export function FitSummary({ fit, mapping, onMapping }: FitSummaryProps) {
  const { plays, clip_joints, figure_joints, figure_name, leg_ratio } = fit;
  const known = new Set(plays.map((pair) => pair.clip_joint));
  const proposed = new Set(fit.proposed.map((pair) => pair.clip_joint));
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
      <Named says="Dropped" names={dropped} />
      <Named says="These rest" names={rests.map(({ label }) => label)} />
    </section>
  );
}

/** Joints that take no part, by their names. */
function Named({ says, names }: { readonly says: string; readonly names: readonly string[] }) {
  if (!names.length) return null;
  return (
    <p className="says is-warning">
      {says}: {names.slice(0, MOST_NAMED).join(', ')}
      {names.length > MOST_NAMED && ` and ${names.length - MOST_NAMED} more`}.
    </p>
  );
}

/** What meets by name or as it was confirmed, and what is proposed. */
export const proposedBy = (fit: Schemas['FitView']): Mapping =>
  Object.fromEntries(
    [...fit.plays, ...fit.proposed].map((pair) => [pair.clip_joint, pair.figure_joint]),
  );
