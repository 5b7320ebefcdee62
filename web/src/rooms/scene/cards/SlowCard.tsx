import { useEffect, useMemo, useRef, useState } from 'react';
import { CardHead } from '../../../app/CardHead';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { findStint, type SlowWish } from '../../../desk/selection';
import type { Edit, Scene } from '../useScene';
import { useStrandsAfter } from '../useStrands';
import type { CardProps } from './card';

interface SlowCardProps extends CardProps {
  readonly wish: SlowWish;
  readonly standing: Scene;
  readonly onPreview: (edit: Edit | null) => void;
}

type By = 'pace' | 'length';
const USUAL_RAMP = 4;

/** Slow, or hurry, a range: a pace or a length, ramps, and who makes room for it. One action. */
export function SlowCard(props: SlowCardProps) {
  const { wish, standing, onPreview, onEdit, onSelect } = props;
  const { desk } = standing;
  const first = desk.first_frame;
  const found = wish.stint === null ? null : findStint(desk, wish.stint);
  const beat = desk.beats.find((other) => other.start === wish.start && other.end === wish.end);
  const does = useRef<HTMLButtonElement>(null);
  const card = useRef<HTMLFormElement>(null);
  // What is asked first is the pace: it is ready to be typed.
  useEffect(() => card.current?.querySelector<HTMLInputElement>('[data-first] input')?.focus(), []);
  const [by, setBy] = useState<By>('pace');
  const [pace, setPace] = useState(0.5);
  const frames = wish.end - wish.start;
  const [length, setLength] = useState(2 * frames);
  const [ramp, setRamp] = useState(Math.min(USUAL_RAMP, Math.floor(frames / 4)));
  const [ripple, setRipple] = useState(true);
  const [allLanes, setAllLanes] = useState(false);
  const edit = useMemo(
    (): Edit => ({
      kind: 'slow_range',
      stint: wish.stint,
      start: wish.start,
      end: wish.end,
      ...(by === 'pace' ? { pace } : { length_frames: length }),
      ramp_frames: ramp,
      ripple,
      all_lanes: allLanes,
    }),
    [wish, by, pace, length, ramp, ripple, allLanes],
  );
  const { strands, problem } = useStrandsAfter(standing, edit, wish.stint);
  useEffect(() => {
    onPreview(problem ? null : edit);
    return () => onPreview(null);
  }, [edit, problem, onPreview]);
  const before = found ? found.stint.end - found.stint.start : desk.played_frames;
  const after = strands ? Math.round(strands.end - strands.start) : before;
  const name = found ? found.stint.name : 'The scene';
  const slows = by === 'pace' ? pace <= 1 : length >= frames;
  const set = (part: Partial<SlowWish>) => onSelect({ ...wish, ...part });
  const seconds = (count: number) => `${(count / desk.frames_per_second).toFixed(2)} s`;
  const make = () => {
    onEdit(edit);
    onSelect(wish.stint === null ? null : { kind: 'stints', ids: [wish.stint] });
  };
  return (
    <aside className="side" aria-label="Slow this">
      <CardHead
        title={slows ? 'Slow this' : 'Hurry this'}
        colour={beat?.colour ?? found?.stint.colour ?? null}
        onClose={() => onSelect(null)}
      />
      <form
        ref={card}
        className="body"
        // Enter keeps a number; the next Enter does it.
        onKeyDown={(event) => {
          if (event.key === 'Enter' && event.target instanceof HTMLInputElement)
            does.current?.focus();
        }}
        onSubmit={(event) => {
          event.preventDefault();
          if (!problem) make();
        }}
      >
        <FieldLine name={beat?.name ?? (found ? `Of ${found.stint.name}` : 'The whole scene')}>
          <span className="pair">
            <NumberBox
              label="First frame of the range"
              value={wish.start + first}
              onCommit={(value) => set({ start: value - first })}
            />
            to
            <NumberBox
              label="Last frame of the range"
              value={wish.end - 1 + first}
              onCommit={(value) => set({ end: value + 1 - first })}
            />
          </span>
        </FieldLine>
        <Choice<By>
          label="By"
          value={by}
          onChange={setBy}
          options={[
            { value: 'pace', text: 'to a pace' },
            { value: 'length', text: 'to a length' },
          ]}
        />
        <FieldLine name={by === 'pace' ? 'Pace' : 'Plays for'} isFirst>
          {by === 'pace' ? (
            <NumberBox
              label="Pace in percent"
              value={pace * 100}
              decimals={1}
              unit="%"
              smallest={1}
              largest={10_000}
              onCommit={(value) => setPace(value / 100)}
            />
          ) : (
            <NumberBox
              label="Frames that it plays for"
              value={length}
              unit="fr"
              smallest={1}
              onCommit={setLength}
            />
          )}
        </FieldLine>
        <FieldLine name="Ramps">
          <NumberBox
            label="Frames of the ramps at both ends"
            value={ramp}
            unit="fr"
            smallest={0}
            onCommit={setRamp}
          />
        </FieldLine>
        <Choice<'ripple' | 'absorb'>
          label="Who makes room"
          value={ripple ? 'ripple' : 'absorb'}
          onChange={(value) => setRipple(value === 'ripple')}
          options={[
            {
              value: 'ripple',
              text: 'what follows moves on',
              hint: 'The length grows by what is gained',
            },
            {
              value: 'absorb',
              text: 'the ends stay',
              hint: 'What lies beside the range plays faster to make up for it',
            },
          ]}
        />
        {found && ripple && (
          <Tick
            label="On every lane"
            hint="What other lanes have from there on moves along, with beats and fixes"
            checked={allLanes}
            onChange={setAllLanes}
          />
        )}
        {problem ? (
          <p className="says is-warning" role="alert">
            {problem.message}
          </p>
        ) : (
          <div className="read-outs" role="status">
            {ripple && (
              <p>
                {beat?.name ?? 'The range'}, <b>{Math.round(frames)}</b> becomes{' '}
                <b>{Math.round(frames + after - before)} fr</b>
              </p>
            )}
            <p>
              {name}, <b>{Math.round(before)}</b> becomes <b>{after} fr</b>{' '}
              <span className="quiet">{seconds(after)}</span>
            </p>
          </div>
        )}
        <div className="button-grid">
          <button ref={does} type="submit" className="btn btn-primary" disabled={problem !== null}>
            {slows ? 'Slow it' : 'Hurry it'}
          </button>
          <button
            type="button"
            className="btn btn-paper"
            onClick={() =>
              onSelect(wish.stint === null ? null : { kind: 'stints', ids: [wish.stint] })
            }
          >
            Leave it
          </button>
        </div>
      </form>
    </aside>
  );
}
