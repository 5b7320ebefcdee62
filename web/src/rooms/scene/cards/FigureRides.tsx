import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { newId } from '../../../api/newId';
import { FieldLine, IconButton, NumberBox, Tick } from '../../../app/controls';
import { useFrame } from '../../../player/useFrame';
import { bodyQuery } from '../bodyQuery';
import type { CardProps } from './card';

interface FigureRidesProps extends Pick<CardProps, 'desk' | 'head' | 'onEdit'> {
  readonly figure: Schemas['SceneFigure'];
  readonly disabled: boolean;
}

/** What a figure rides on: a joint of another one, over a range. Attaching moves nothing at the playhead. */
export function FigureRides({ desk, head, figure, disabled, onEdit }: FigureRidesProps) {
  const [to, setTo] = useState('');
  const [joint, setJoint] = useState('');
  const [turns, setTurns] = useState(true);
  const [keepsOffset, setKeepsOffset] = useState(true);
  const other = desk.figures.find(({ id }) => id === to);
  const { data: body } = useQuery({ ...bodyQuery(other?.figure ?? ''), enabled: !!other });
  const first = desk.first_frame;
  const playhead = useFrame(head);
  const others = desk.figures.filter(({ id }) => id !== figure.id);
  const guide = desk.guides.find(({ id }) => id === to);
  const named = [...desk.figures, ...desk.guides];
  const rides = figure.attachments ?? [];
  const set = (ride: Schemas['Attachment'], part: Partial<Schemas['SetAttachment']>) =>
    onEdit({ kind: 'set_attachment', figure: figure.id, attachment: ride.id, ...part });
  return (
    <section aria-label="What it rides on">
      <h3>
        Rides on <em>{rides.length ? 'as that plays' : 'nothing: it stands on its mark'}</em>
      </h3>
      {rides.map((ride) => (
        <FieldLine
          key={ride.id}
          name={[named.find(({ id }) => id === ride.to)?.name, ride.joint]
            .filter(Boolean)
            .join(', ')}
        >
          <span className="pair">
            <NumberBox
              label={`First frame on ${ride.joint ?? 'the guide'}`}
              value={ride.start + first}
              disabled={disabled}
              onCommit={(value) => set(ride, { start: value - first })}
            />
            to
            <NumberBox
              label={`Last frame on ${ride.joint ?? 'the guide'}`}
              value={(ride.end ?? desk.laid_frames) - 1 + first}
              disabled={disabled}
              onCommit={(value) => set(ride, { end: value + 1 - first })}
            />
            {!disabled && (
              <IconButton
                icon="x"
                label={`Let it off ${ride.joint ?? 'the guide'}`}
                onClick={() =>
                  onEdit({ kind: 'detach_figure', figure: figure.id, attachment: ride.id })
                }
              />
            )}
          </span>
        </FieldLine>
      ))}
      {!disabled && others.length + desk.guides.length > 0 && (
        <>
          <div className="field-line">
            <select
              className="form-select"
              aria-label="Whom it is to ride on"
              value={to}
              onChange={({ target }) => {
                setTo(target.value);
                setJoint('');
              }}
            >
              <option value="">Attach to …</option>
              {[...others, ...desk.guides].map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
            {other && (
              <select
                className="form-select"
                aria-label="The joint that it is to ride on"
                value={joint}
                onChange={({ target }) => setJoint(target.value)}
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
          {(other || guide) && (
            <div className="tick-grid">
              <Tick
                label="Turns with it"
                hint="Off: it keeps its own turn, and only goes where the joint goes"
                checked={turns}
                onChange={setTurns}
              />
              <Tick
                label="Offset kept"
                hint="Off: its root comes to the joint"
                checked={keepsOffset}
                onChange={setKeepsOffset}
              />
            </div>
          )}
          {(other || guide) && (
            <button
              type="button"
              className="btn btn-paper"
              disabled={!guide && !joint}
              title="From the playhead on; with the offset kept nothing moves at this frame"
              onClick={() =>
                onEdit({
                  kind: 'attach_figure',
                  attachment: newId(),
                  figure: figure.id,
                  to,
                  joint: guide ? null : joint,
                  start: playhead,
                  turns,
                  keeps_offset: keepsOffset,
                })
              }
            >
              Attach from {playhead + first} on
            </button>
          )}
        </>
      )}
    </section>
  );
}
