import { Link } from 'react-router';
import type { Schemas } from '../../../api/client';
import { FieldLine, IconButton, NumberBox } from '../../../app/controls';
import { useCircle } from './useRecording';

const MOST_LISTED = 8;

interface SittingProps {
  readonly production: string;
  readonly library: Schemas['LibraryView'] | undefined;
  readonly label: string;
  readonly onLabel: (label: string) => void;
  readonly countdown: number;
  readonly onCountdown: (seconds: number) => void;
  readonly plays: string;
  readonly onPlays: (figure: string) => void;
  readonly onOpen: () => void;
  /** A take is armed by what was set when it was. */
  readonly isLocked: boolean;
}

/** What the next take is called and plays on, and the takes there are: the good one is circled. */
export function Sitting(props: SittingProps) {
  const { production, library, label, plays, isLocked } = props;
  const circle = useCircle(production);
  const takes = (library?.takes ?? [])
    .filter((take) => !take.archived)
    .sort((a, b) => b.created.localeCompare(a.created))
    .slice(0, MOST_LISTED);
  const figures = (library?.figures ?? []).filter((figure) => !figure.archived);
  return (
    <>
      <FieldLine name="Name">
        <input
          className="form-control"
          aria-label="Name of the takes; they are numbered"
          value={label}
          maxLength={100}
          disabled={isLocked}
          onChange={(event) => props.onLabel(event.target.value)}
        />
      </FieldLine>
      <FieldLine name="Onto">
        <select
          className="form-select"
          aria-label="The figure that plays the takes"
          value={plays}
          disabled={isLocked}
          onChange={(event) => props.onPlays(event.target.value)}
        >
          <option value="">the suit, as captured</option>
          {figures.map((figure) => (
            <option key={figure.id} value={figure.id}>
              {figure.name}
            </option>
          ))}
        </select>
      </FieldLine>
      <FieldLine name="Countdown">
        <NumberBox
          label="Countdown in seconds"
          value={props.countdown}
          smallest={0}
          largest={30}
          unit="s"
          disabled={isLocked}
          onCommit={props.onCountdown}
        />
      </FieldLine>
      <h2>Takes, the newest first</h2>
      <ul className="sitting">
        {takes.map((take) => (
          <li key={take.id} className={take.circled ? 'is-circled' : ''}>
            <IconButton
              icon={take.circled ? 'record-circle' : 'circle'}
              label={take.circled ? `Rub out the circle of ${take.name}` : `Circle ${take.name}`}
              pressed={take.circled}
              onClick={() => circle.mutate({ id: take.id, circled: !take.circled })}
            />
            <Link to={`/takes/${take.id}`} title={`Open ${take.name}`} onClick={props.onOpen}>
              {take.name}
            </Link>
            <span className="quiet number">
              {take.length_seconds.toFixed(1)} s{take.lost ? `, ${take.lost} lost` : ''}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
