import { useState } from 'react';
import { sentence } from '../../api/client';
import type { Step } from '../../api/takes';
import { Choice, NumberBox } from '../../app/controls';
import { DrawnNumber } from './DrawnNumber';
import type { TakesRoomParts } from './room';
import { cmOf, TOLERANCES, useKeysAgainstError } from './useKeysAgainstError';

type Thin = Extract<Step, { step: 'thin' }>;

interface ThinProps {
  readonly room: TakesRoomParts;
  readonly step: Thin;
  readonly onStep: (step: Thin) => void;
  readonly onPreview: (step: Thin | null) => void;
}

const A_TENTH = 0.1;

/** By how much keys may be off, or how many of them are wanted; and what each costs of the other. */
export function ThinNumbers({ room, step, onStep, onPreview }: ThinProps) {
  const disabled = !room.take.may_change;
  const share = step.share ?? null;
  const [isShown, setShown] = useState(false);
  return (
    <>
      <Choice<'within' | 'share'>
        label="Thin by"
        value={share === null ? 'within' : 'share'}
        disabled={disabled}
        onChange={(by) => onStep({ ...step, share: by === 'share' ? A_TENTH : null })}
        options={[
          { value: 'within', text: 'within', hint: 'The fewest keys within a tolerance' },
          { value: 'share', text: 'a share', hint: 'So many of the keys, and the error of it' },
        ]}
      />
      {share === null ? (
        <>
          <DrawnNumber
            label="Keys within"
            value={step.degrees}
            low={0.1}
            high={10}
            unit="deg"
            disabled={disabled}
            onDraw={(degrees) => onPreview(degrees === null ? null : { ...step, degrees })}
            onSet={(degrees) => onStep({ ...step, degrees })}
          />
          <p>
            hands and feet within
            <NumberBox
              label="Hands and feet within"
              value={step.cm}
              decimals={2}
              unit="cm"
              smallest={0.02}
              largest={50}
              disabled={disabled}
              onCommit={(cm) => onStep({ ...step, cm })}
            />
          </p>
        </>
      ) : (
        <p>
          <NumberBox
            label="Share of the keys"
            value={share * 100}
            decimals={1}
            unit="%"
            smallest={0.5}
            largest={100}
            disabled={disabled}
            onCommit={(percent) => onStep({ ...step, share: percent / 100 })}
          />
          of the keys
        </p>
      )}
      <button
        type="button"
        className="btn btn-quiet"
        aria-expanded={isShown}
        onClick={() => setShown(!isShown)}
      >
        Keys against error
      </button>
      {isShown && <KeysAgainstError room={room} step={step} onStep={onStep} />}
    </>
  );
}

interface CurveProps {
  readonly room: TakesRoomParts;
  readonly step: Thin;
  readonly onStep: (step: Thin) => void;
}

const [WIDE, HIGH, EDGE] = [190, 84, 18];

/** What each tolerance takes in keys and gives in error: press a point to choose it. */
function KeysAgainstError({ room, step, onStep }: CurveProps) {
  const { take, looked } = room;
  // What hands and feet may be off by grows with what turns may.
  const cmADegree = step.cm / step.degrees;
  const { rows, isTelling, problem } = useKeysAgainstError(take, looked, cmADegree);
  if (problem) return <p className="refusal">{sentence(problem)}</p>;
  if (!rows.length) return <p className="quiet">Thinning by each …</p>;
  const most = Math.max(...rows.map((row) => row.keys), 1);
  const [low, high] = [TOLERANCES[0], TOLERANCES[TOLERANCES.length - 1]];
  const x = (tolerance: number) =>
    EDGE + ((WIDE - 2 * EDGE) * Math.log(tolerance / low)) / Math.log(high / low);
  const y = (keys: number) => HIGH - EDGE - ((HIGH - 2 * EDGE) * keys) / most;
  return (
    <figure className="keys-against" aria-label="Keys against error" aria-busy={isTelling}>
      <svg width={WIDE} height={HIGH}>
        <title>Keys against error</title>
        <polyline points={rows.map((row) => `${x(row.tolerance)},${y(row.keys)}`).join(' ')} />
        {rows.map((row) => {
          const says = `${row.keys.toLocaleString('en')} keys within ${row.tolerance}°: off by ${row.degrees.toFixed(2)}°, ${row.cm.toFixed(2)} cm`;
          const isChosen = !step.share && step.degrees === row.tolerance;
          const choose = () => {
            const [degrees, cm] = [row.tolerance, cmOf(row.tolerance, cmADegree)];
            if (take.may_change) onStep({ ...step, degrees, cm, share: null });
          };
          return (
            // biome-ignore lint/a11y/useSemanticElements: a drawn point, with a button's role and keys
            <g
              key={row.tolerance}
              role="button"
              tabIndex={0}
              aria-label={says}
              aria-pressed={isChosen}
              onClick={choose}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' && event.key !== ' ') return;
                event.preventDefault();
                event.stopPropagation();
                choose();
              }}
            >
              <title>{says}</title>
              <circle className="reach" cx={x(row.tolerance)} cy={y(row.keys)} r={11} />
              <circle
                className={isChosen ? 'is-chosen' : ''}
                cx={x(row.tolerance)}
                cy={y(row.keys)}
                r={4}
              />
              <text x={x(row.tolerance)} y={y(row.keys) - 8} textAnchor="middle">
                {row.keys.toLocaleString('en')}
              </text>
              <text x={x(row.tolerance)} y={HIGH - 4} textAnchor="middle">
                {row.tolerance}°
              </text>
            </g>
          );
        })}
      </svg>
    </figure>
  );
}
