import type { ReactNode } from 'react';
import type { Step, StepSeen } from '../../api/takes';
import { IconButton, NumberBox, Tick } from '../../app/controls';
import { DrawnNumber } from './DrawnNumber';
import { MarkNumbers } from './MarkNumbers';
import type { TakesRoomParts } from './room';
import { ThinNumbers } from './ThinNumbers';

interface StepCardProps {
  readonly room: TakesRoomParts;
  readonly step: Step;
  readonly place: number;
  readonly seen: StepSeen | null;
}

const TITLES: Readonly<Record<Step['step'], string>> = {
  conform: 'Conform',
  trim: 'Trim',
  ground: 'Ground',
  mend: 'Mend',
  smooth: 'Smooth',
  contacts: 'Contacts',
  hold_feet: 'Hold the feet',
  thin: 'Thin',
};
const FIXED: readonly Step['step'][] = ['conform', 'trim', 'thin'];

/** One step: its switch, its numbers, and what it measured before and after. */
export function StepCard({ room, step, place, seen }: StepCardProps) {
  const { take, onEdit } = room;
  const mayChange = take.may_change;
  const title = TITLES[step.step];
  const isFixed = FIXED.includes(step.step);
  const set = (changed: Step) => onEdit({ kind: 'set_step', step: changed });
  return (
    <li className={`step ${step.on ? '' : 'is-off'}`} data-step={step.step}>
      <span className="step-number number">{place + 1}</span>
      <div className="step-line">
        <b>{title}</b>
        {mayChange && !isFixed && (
          <span className="step-order">
            <IconButton
              icon="chevron-up"
              label={`${title} earlier`}
              onClick={() => onEdit({ kind: 'move_step', step: step.step, places: -1 })}
            />
            <IconButton
              icon="chevron-down"
              label={`${title} later`}
              onClick={() => onEdit({ kind: 'move_step', step: step.step, places: 1 })}
            />
          </span>
        )}
        <span className="grow" />
        <Tick
          label={<span className="visually-hidden">Run {title}</span>}
          hint={step.on ? `Leave ${title} out` : `Run ${title}`}
          checked={step.on}
          disabled={!mayChange}
          onChange={(on) => set({ ...step, on })}
        />
      </div>
      {step.on && (
        <div className="step-body">
          <StepNumbers room={room} step={step} onStep={set} />
          {seen && <Measured room={room} seen={seen} />}
        </div>
      )}
    </li>
  );
}

interface NumbersProps {
  readonly room: TakesRoomParts;
  readonly step: Step;
  readonly onStep: (step: Step) => void;
}

const RATES = ['24', '25', '30', '48', '60'];

function StepNumbers({ room, step, onStep }: NumbersProps): ReactNode {
  const { take, cleaned, onPreview } = room;
  const disabled = !take.may_change;
  const preview = (changed: Step | null) =>
    onPreview(changed && { kind: 'set_step', step: changed });
  switch (step.step) {
    case 'conform': {
      const rates = [...new Set([take.take.rate, take.take.clip_rate, ...RATES])];
      return (
        <p className="step-numbers">
          {take.take.rate} to{' '}
          <select
            className="form-select"
            aria-label="The clip’s rate"
            value={step.rate ?? take.take.rate}
            disabled={disabled}
            onChange={(event) => onStep({ ...step, rate: event.target.value })}
          >
            {rates.map((rate) => (
              <option key={rate} value={rate}>
                {rate} fps
              </option>
            ))}
          </select>
          <NumberBox
            label="Pace"
            value={step.pace * 100}
            decimals={1}
            unit="%"
            smallest={1}
            largest={1000}
            disabled={disabled || take.take.by_hand.elastic !== null}
            onCommit={(pace) => onStep({ ...step, pace: pace / 100 })}
          />
        </p>
      );
    }
    case 'trim': {
      const { length_frames: length } = take.take;
      const end = step.end ?? length;
      return (
        <p className="step-numbers">
          <NumberBox
            label="First frame that is used"
            value={step.start}
            smallest={0}
            largest={end - 1}
            disabled={disabled}
            onCommit={(start) => onStep({ ...step, start: Math.round(start) })}
          />
          to
          <NumberBox
            label="The frame after the last that is used"
            value={end}
            smallest={step.start + 1}
            largest={length}
            disabled={disabled}
            onCommit={(to) => onStep({ ...step, end: Math.round(to) })}
          />
          <i
            className="trim-bar"
            style={{
              left: `${(100 * step.start) / length}%`,
              width: `${(100 * (end - step.start)) / length}%`,
            }}
          />
        </p>
      );
    }
    case 'ground':
      return (
        <p className="step-numbers">
          <Tick
            label="level"
            hint="The floor is found from the plants and levelled"
            checked={step.level}
            disabled={disabled}
            onChange={(level) => onStep({ ...step, level })}
          />
          <Tick
            label="to a mark"
            hint="It starts at a mark on the ground, looking along it"
            checked={step.to_mark}
            disabled={disabled}
            onChange={(wanted) => onStep({ ...step, to_mark: wanted })}
          />
          <Tick
            label="drift"
            hint="The slow path that plants disagree with is taken out"
            checked={step.drift}
            disabled={disabled}
            onChange={(drift) => onStep({ ...step, drift })}
          />
          {step.to_mark && (
            <MarkNumbers
              mark={step.mark}
              disabled={disabled}
              onMark={(mark) => onStep({ ...step, mark })}
            />
          )}
        </p>
      );
    case 'mend':
      return (
        <p className="step-numbers">
          over
          <NumberBox
            label="Spikes of more than"
            value={step.over_degrees}
            decimals={1}
            unit="deg"
            smallest={0.5}
            largest={180}
            disabled={disabled}
            onCommit={(over) => onStep({ ...step, over_degrees: over })}
          />
          off its neighbours
        </p>
      );
    case 'smooth':
      return (
        <div className="step-numbers is-tall">
          <DrawnNumber
            label="Smooth what is faster than"
            value={step.hz}
            low={0.5}
            high={20}
            unit="Hz"
            disabled={disabled}
            onDraw={(hz) => preview(hz === null ? null : { ...step, hz })}
            onSet={(hz) => onStep({ ...step, hz })}
          />
          <p>
            arms and legs
            <NumberBox
              label="Arms and legs: what is faster than"
              value={step.limbs_hz ?? step.hz}
              decimals={1}
              unit="Hz"
              smallest={0.5}
              largest={60}
              disabled={disabled}
              onCommit={(hz) => onStep({ ...step, limbs_hz: hz })}
            />
            <label className="of-joints">
              <span className="visually-hidden">Which joints</span>
              <select
                className="form-select"
                value={step.joints.length ? 'chosen' : 'all'}
                disabled={disabled}
                onChange={(event) => {
                  const chosen = room.joints.filter((name) => take.take.joints.includes(name));
                  onStep({ ...step, joints: event.target.value === 'all' ? [] : chosen });
                }}
              >
                <option value="all">all joints</option>
                <option value="chosen">
                  {step.joints.length ? step.joints.join(', ') : 'those shown below'}
                </option>
              </select>
            </label>
          </p>
        </div>
      );
    case 'contacts': {
      const by = (side: string) => cleaned?.plants.filter((plant) => plant.side === side) ?? [];
      return (
        <div className="step-numbers is-tall">
          {(['left', 'right'] as const).map((side) => (
            <p key={side} className="plant-count">
              <span>{side}</span>
              <span className="plant-bars" aria-hidden="true">
                {by(side)
                  .slice(0, 16)
                  .map((plant) => (
                    <i key={plant.start} className={`foot is-${side}`} />
                  ))}
              </span>
              <span className="number">{by(side).length}</span>
            </p>
          ))}
          {take.take.by_hand.feet.length > 0 && !disabled && (
            <button
              type="button"
              className="btn btn-quiet"
              onClick={() => room.onEdit({ kind: 'forget_feet' })}
            >
              As they are found
            </button>
          )}
        </div>
      );
    }
    case 'thin':
      return (
        <div className="step-numbers is-tall">
          <ThinNumbers room={room} step={step} onStep={onStep} onPreview={preview} />
        </div>
      );
    default:
      return null;
  }
}

const UNITS: Readonly<Record<string, string>> = { degrees: '°', 'degrees of shake': '°' };
const PLAIN = new Set(['frames', 'spikes', 'plants', 'keys']);

/** Before and after as bars, and where the step did most. */
function Measured({ room, seen }: { readonly room: TakesRoomParts; readonly seen: StepSeen }) {
  const most = Math.max(seen.before, seen.after, 1e-9);
  const said = (value: number) => {
    const digits = PLAIN.has(seen.unit) ? 0 : value < 1 ? 2 : 1;
    const text = value.toLocaleString('en', { maximumFractionDigits: digits });
    return `${text} ${UNITS[seen.unit] ?? (seen.unit === 'frames' ? 'fr' : seen.unit)}`;
  };
  const { worst } = seen;
  const cm = seen.said.greatest_change_cm ?? seen.said.greatest_error_cm;
  return (
    <div className="measured">
      {seen.step !== 'contacts' && (
        <>
          <p>
            <span>before</span>
            <i className="bar is-before" style={{ width: `${(72 * seen.before) / most}px` }} />
            <span className="number">{said(seen.before)}</span>
          </p>
          <p>
            <span>after</span>
            <i className="bar is-after" style={{ width: `${(72 * seen.after) / most}px` }} />
            <span className="number">{said(seen.after)}</span>
          </p>
        </>
      )}
      {worst && worst.amount > 0.05 && (
        <button
          type="button"
          className="worst"
          title="Go to where it did most"
          onClick={() => room.goTo(worst.frame, worst.joint)}
        >
          worst <span className="number">{worst.amount.toFixed(1)}</span>
          {seen.step === 'hold_feet' ? ' cm' : '°'} {worst.label.toLowerCase()} at{' '}
          <span className="number">{worst.frame}</span>
          {typeof cm === 'number' && (
            <>
              {' '}
              · <span className="number">{cm.toFixed(1)}</span> cm
            </>
          )}
        </button>
      )}
      {seen.notes.map((note) => (
        <p key={note} className="quiet">
          {note}
        </p>
      ))}
    </div>
  );
}
