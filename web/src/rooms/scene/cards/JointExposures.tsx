import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, IconButton } from '../../../app/controls';
import { bodyQuery } from '../bodyQuery';
import type { CardProps } from './card';
import { EVEN } from './ExposureField';

interface JointExposuresProps extends Pick<CardProps, 'onEdit'> {
  readonly lane: Schemas['DeskLane'];
  readonly figure: string;
  readonly disabled: boolean;
}

/** Some joints on an exposure to themselves: an arm on threes while the body is on twos. */
export function JointExposures({ lane, figure, disabled, onEdit }: JointExposuresProps) {
  const { data: body } = useQuery(bodyQuery(figure));
  const [which, setWhich] = useState('');
  const expose = (joints: readonly string[], frames: number | null) =>
    onEdit({
      kind: 'expose',
      lane: lane.id,
      joints: [...joints],
      place: false,
      pattern: frames === null ? null : [frames],
      anchor: 0,
    });
  if (!body) return null;
  const joints = body.parts[which] ?? (which ? [which] : []);
  return (
    <>
      {lane.joint_exposures.map((group) => (
        <FieldLine key={group.joints.join()} name={group.said}>
          <span className="pair">
            <span className="number">{group.exposure.said}</span>
            {!disabled && (
              <IconButton
                icon="x"
                label={`Let ${group.said} go with the rest`}
                onClick={() => expose(group.joints, null)}
              />
            )}
          </span>
        </FieldLine>
      ))}
      {!disabled && (
        <div className="field-line">
          <select
            className="form-select"
            aria-label="Joints that are to have an exposure of their own"
            value={which}
            onChange={({ target }) => setWhich(target.value)}
          >
            <option value="">Some joints on their own …</option>
            {Object.keys(body.parts).map((part) => (
              <option key={part} value={part}>
                {part}
              </option>
            ))}
            {body.joints.map(({ name, label }) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
          {joints.length > 0 && (
            <select
              className="form-select"
              aria-label="Their exposure"
              value=""
              onChange={({ target }) => {
                expose(joints, Number(target.value));
                setWhich('');
              }}
            >
              <option value="">on …</option>
              {EVEN.map(([count, text]) => (
                <option key={count} value={String(count)}>
                  {text}
                </option>
              ))}
            </select>
          )}
        </div>
      )}
    </>
  );
}
