import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { bodyQuery } from '../bodyQuery';
import type { LayerFieldsProps } from './layerFieldsProps';

type Ride = Schemas['Attachment'];

/** What a card rides on: a joint as it plays, or a guide. */
export function LayerRide({ desk, layer, disabled, onEdit }: LayerFieldsProps) {
  const ride = layer.attachments?.at(-1);
  const [to, setTo] = useState('');
  const other = desk.figures.find(({ id }) => id === to);
  const guide = desk.guides.find(({ id }) => id === to);
  const { data: body } = useQuery({ ...bodyQuery(other?.figure ?? ''), enabled: !!other });
  const named = [...desk.figures, ...desk.guides];
  const go = (part: Pick<Ride, 'to' | 'joint'> & Partial<Ride>) =>
    onEdit({
      kind: 'ride_layer',
      layer: layer.id,
      start: 0,
      end: null,
      offset: [0, 0, 0],
      turns: false,
      ...part,
    });
  const again = (from: Ride, part: Partial<Ride>) => {
    const { start, end, offset, turns, joint } = { ...from, ...part };
    go({
      to: from.to,
      joint: joint ?? null,
      start,
      end: end ?? null,
      offset,
      turns,
    });
  };
  const [x, y, z] = ride?.offset ?? [0, 0, 0];
  return (
    <section aria-label="What it rides on">
      <h3>
        Rides on{' '}
        <em>
          {ride
            ? [named.find(({ id }) => id === ride.to)?.name, ride.joint].filter(Boolean).join(', ')
            : 'nothing'}
        </em>
      </h3>
      {ride && (
        <>
          <FieldLine name="Off by">
            <span className="pair">
              {[x, y, z].map((value, axis) => (
                <NumberBox
                  // biome-ignore lint/suspicious/noArrayIndexKey: an axis is its place
                  key={axis}
                  label={`Off by, ${'xyz'[axis]}`}
                  value={value}
                  decimals={2}
                  disabled={disabled}
                  onCommit={(by) => {
                    const offset: [number, number, number] = [x, y, z];
                    offset[axis] = by;
                    again(ride, { offset });
                  }}
                />
              ))}
            </span>
          </FieldLine>
          <div className="tick-grid">
            <Tick
              label="Turns with it"
              hint="Off: it goes along, and stays upright"
              checked={ride.turns ?? true}
              disabled={disabled}
              onChange={(turns) => again(ride, { turns })}
            />
          </div>
          {!disabled && (
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => onEdit({ kind: 'let_layer_off', layer: layer.id })}
            >
              Let it off
            </button>
          )}
        </>
      )}
      {!disabled && !ride && (
        <div className="field-line">
          <select
            className="form-select"
            aria-label="What the card is to ride on"
            value={to}
            onChange={({ target }) => {
              setTo(target.value);
              if (desk.guides.some(({ id }) => id === target.value))
                go({ to: target.value, joint: null });
            }}
          >
            <option value="">Attach to …</option>
            {named.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          {other && !guide && (
            <select
              className="form-select"
              aria-label="The joint that the card is to ride on"
              value=""
              onChange={({ target }) => go({ to, joint: target.value })}
            >
              <option value="">which joint …</option>
              {body?.joints.map(({ name, label }) => (
                <option key={name} value={name}>
                  {label}
                </option>
              ))}
            </select>
          )}
        </div>
      )}
    </section>
  );
}
