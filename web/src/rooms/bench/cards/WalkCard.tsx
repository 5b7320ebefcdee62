import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type Gait, readGaits } from '../../../api/clips';
import { FieldLine, NumberBox } from '../../../app/controls';
import type { CardProps } from './card';

const NUMBERS: readonly {
  readonly name: keyof Omit<Gait, 'arms'>;
  readonly label: string;
  readonly unit: string;
  readonly decimals: number;
}[] = [
  { name: 'stride_metres', label: 'Stride', unit: 'm', decimals: 2 },
  { name: 'frames_per_step', label: 'Frames a step', unit: 'fr', decimals: 0 },
  { name: 'bounce_metres', label: 'Bounce', unit: 'm', decimals: 3 },
  { name: 'lean_degrees', label: 'Lean', unit: '°', decimals: 0 },
  { name: 'arm_swing_degrees', label: 'Arm swing', unit: '°', decimals: 0 },
  { name: 'foot_lift_metres', label: 'Foot lift', unit: 'm', decimals: 2 },
  { name: 'hip_turn_degrees', label: 'Hip turn', unit: '°', decimals: 0 },
  { name: 'down_share', label: 'Foot is down', unit: 'of 1', decimals: 2 },
  { name: 'crouch', label: 'Crouch', unit: 'of leg', decimals: 2 },
];

/** The walk starter: a gait's numbers, live on the stage, then kept as ordinary keys. */
export function WalkCard({ clip, onEdit, onPreview }: CardProps) {
  const gaits = useQuery({
    queryKey: ['gaits', clip.bench.figure],
    queryFn: () => readGaits(clip.id),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [gait, setGait] = useState<Gait | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  if (!clip.may_change) return <p className="quiet">You can look, and not start a walk.</p>;
  const show = (wanted: Gait, name: string | null) => {
    setGait(wanted);
    setPicked(name);
    onPreview({ kind: 'start_walk', gait: wanted, preset: null });
  };
  return (
    <>
      <div className="gait-names">
        {gaits.data?.map((row) => (
          <button
            key={row.name}
            type="button"
            aria-pressed={picked === row.name}
            className="btn btn-paper"
            onClick={() => show(row.gait, row.name)}
          >
            {row.name}
          </button>
        ))}
      </div>
      {!gait && (
        <p className="quiet">
          Choose a gait: it is shown on the stage, and then its numbers are yours.
        </p>
      )}
      {gait && (
        <>
          <div className="gait-numbers">
            {NUMBERS.map(({ name, label, unit, decimals }) => (
              <FieldLine key={name} name={label}>
                <NumberBox
                  label={label}
                  value={gait[name]}
                  decimals={decimals}
                  unit={unit}
                  onCommit={(value) => show({ ...gait, [name]: value }, null)}
                />
              </FieldLine>
            ))}
            <FieldLine name="Arms swing">
              <select
                className="form-select"
                aria-label="Which arms swing"
                value={gait.arms}
                onChange={(event) =>
                  show({ ...gait, arms: event.target.value as Gait['arms'] }, picked)
                }
              >
                <option value="both">both</option>
                <option value="left">left</option>
                <option value="right">right</option>
                <option value="none">none</option>
              </select>
            </FieldLine>
          </div>
          <div className="close-line">
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => {
                setGait(null);
                setPicked(null);
                onPreview(null);
              }}
            >
              Never mind
            </button>
            <button
              type="button"
              className="btn btn-lamp"
              onClick={() => {
                onEdit({ kind: 'start_walk', gait, preset: null });
                setGait(null);
                setPicked(null);
              }}
            >
              Keep as keys
            </button>
          </div>
        </>
      )}
    </>
  );
}
