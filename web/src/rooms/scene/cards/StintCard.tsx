import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../../api/client';
import { newId } from '../../../api/newId';
import { CardHead } from '../../../app/CardHead';
import { ColourChoice } from '../../../app/ColourChoice';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import { roundsText } from '../../../desk/stintShape';
import type { Crossing } from '../useCrossing';
import type { Edit } from '../useScene';
import { CrossStage } from './CrossStage';
import type { CardProps } from './card';
import { StintWeight } from './StintWeight';

type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];
type Number = keyof Stint['numbers'];

const NAMES: Readonly<Record<Number, string>> = {
  scene_from: 'the first frame in the scene',
  scene_to: 'the last frame in the scene',
  clip_from: 'the first frame of the clip',
  clip_to: 'the last frame of the clip',
  pace: 'the pace',
};
const NUMBERS = Object.keys(NAMES) as Number[];
const GAP_RULES = [
  ['rest', 'rests'],
  ['hold', 'holds'],
  ['wait', 'waits in the next'],
  ['ease', 'eases over'],
] as const;

export interface StintCardProps extends CardProps {
  readonly crossing: Crossing;
}

/**
 * When it plays, which part of the clip, how fast: three edits that never stand in for one another.
 * The number that follows a change is always the same, and is marked before anything is changed.
 */
export function StintCard(props: StintCardProps & { lane: Lane; stint: Stint }) {
  const { crossing, scene, desk, lane, stint, player, options, onEdit, onSelect } = props;
  const locked = !scene.may_change || lane.locked;
  const [held, setHeld] = useState<Number | null>(null);
  const { ripple } = options;
  const shown = shownNumbers(stint, desk.first_frame);
  const followed = useFollowed(stint, shown);
  const set = (number: Number, value: number) =>
    onEdit({
      kind: 'set_number',
      stint: stint.id,
      number,
      value: madeOf(stint, desk, number, value),
      ripple,
    });
  const into = [...lane.joins, ...lane.cuts].find((join) => join.incoming === stint.id);
  const gap = lane.gaps.find((other) => other.after === stint.id);
  const follower = held && desk.follows[held];

  const box = (number: Number, label: string) => (
    <span className={follower === number ? 'follows' : ''}>
      <NumberBox
        label={label}
        value={shown[number]}
        decimals={number === 'pace' ? 1 : number.startsWith('clip') ? 2 : 0}
        {...(number === 'pace' ? { unit: '%', smallest: 1 } : {})}
        disabled={locked}
        onHold={(isHeld) => setHeld(isHeld ? number : null)}
        onCommit={(value) => set(number, value)}
      />
    </span>
  );

  return (
    <aside className="side" aria-label={`Stint: ${stint.name}`}>
      <CardHead title={stint.name} colour={stint.colour} onClose={() => onSelect(null)} />
      <div className="body">
        <div className="three-edits">
          <section aria-label="Move">
            <h3>
              In the scene <em>when it plays</em>
            </h3>
            <div className="field-line">
              <span className="pair">
                {box('scene_from', 'First frame in the scene: moves the stint')}
                to
                {box('scene_to', 'Last frame in the scene: trims the end')}
              </span>
              <span className="quiet number">{Math.round(stint.end - stint.start)} fr</span>
            </div>
          </section>
          <section aria-label="Trim">
            <h3>
              Of the clip <em>which part plays</em>
            </h3>
            <div className="field-line">
              <span className="pair">
                {box('clip_from', 'First frame of the clip: trims the start')}
                to
                {box('clip_to', 'Last frame of the clip: trims the end')}
              </span>
              <span className="quiet">
                {stint.is_cycle
                  ? `${roundsText(stint.cycles ?? 0)} rounds of ${stint.clip_length_frames}`
                  : `of 0–${stint.clip_length_frames - 1}`}
              </span>
            </div>
          </section>
          <section aria-label="Stretch">
            <h3>
              Pace <em>how fast it runs</em>
            </h3>
            <div className="field-line">
              {box('pace', 'Pace in percent: stretches the stint')}
              <span className="quiet">100 % is as made</span>
            </div>
          </section>
        </div>
        <p className="quiet told" role="status">
          {held && follower
            ? `${capital(NAMES[follower])} goes with it. The rest stays.`
            : followed || 'Each number takes one other with it: press one to see which.'}
        </p>
        {stint.cycles !== null && (
          <FieldLine name="Rounds">
            <NumberBox
              label="Rounds"
              value={stint.cycles}
              decimals={3}
              smallest={0.01}
              disabled={locked}
              onCommit={(cycles) =>
                onEdit({ kind: 'repeat_stint', stint: stint.id, cycles, ripple })
              }
            />
          </FieldLine>
        )}
        {stint.is_cycle && (
          <FieldLine name="Starting phase">
            <NumberBox
              label="Starting phase: the frame of the cycle that the stint begins on"
              value={stint.numbers.clip_from}
              decimals={2}
              unit={`of ${stint.clip_length_frames}`}
              disabled={locked}
              onCommit={(frame) =>
                onEdit({
                  kind: 'slip_stint',
                  stint: stint.id,
                  source_frames: frame - stint.numbers.clip_from,
                })
              }
            />
          </FieldLine>
        )}
        <Tick
          label="Hold the feet"
          hint="Planted feet stand still all through the stint"
          checked={stint.holds_feet}
          disabled={locked}
          onChange={(holds) => onEdit({ kind: 'hold_stint_feet', stint: stint.id, holds })}
        />
        {stint.round_metres !== null && (
          <CrossStage
            stint={stint}
            roundMetres={stint.round_metres}
            mark={desk.figures.find((other) => other.id === lane.figure)?.mark ?? [0, 0, 0]}
            crossing={crossing}
            disabled={locked}
            onEdit={onEdit}
          />
        )}
        {gap && !lane.lies_over && (
          <FieldLine name="After it">
            <select
              className="form-select"
              aria-label="What the figure does after the stint"
              disabled={locked}
              value={gap.own ? gap.rule : ''}
              onChange={({ target }) =>
                onEdit({
                  kind: 'set_gap',
                  stint: stint.id,
                  gap: GAP_RULES.find(([rule]) => rule === target.value)?.[0] ?? null,
                })
              }
            >
              <option value="">as the lane says</option>
              {GAP_RULES.map(([rule, text]) => (
                <option key={rule} value={rule}>
                  {text}
                </option>
              ))}
            </select>
          </FieldLine>
        )}
        {lane.lies_over && (
          <StintWeight stint={stint} player={player} disabled={locked} onEdit={onEdit} />
        )}
        {stint.rests.length > 0 && (
          <p className="says is-warning" title={stint.rests.join(', ')}>
            This clip says nothing of{' '}
            {stint.rests.length === 1 ? 'one joint' : `${stint.rests.length} joints`}:{' '}
            {stint.rests.slice(0, 4).join(', ')}
            {stint.rests.length > 4 && ' …'}. They rest.
          </p>
        )}
        {stint.dropped.length > 0 && (
          <p className="says is-warning" title={stint.dropped.join(', ')}>
            {counted(stint.dropped.length, 'joint')} of the clip’s own figure have nothing to play
            here: {stint.dropped.slice(0, 4).join(', ')}
            {stint.dropped.length > 4 && ' …'}.
          </p>
        )}
        <hr className="hairline" />
        <NameField
          label={`Name (its clip: ${stint.clip_name})`}
          value={stint.name}
          mayBeEmpty
          disabled={locked}
          onCommit={(name) => onEdit({ kind: 'name_stint', stint: stint.id, name: name || null })}
        />
        <ColourChoice
          label="Colour of the stint"
          value={stint.colour}
          disabled={locked}
          onChange={(colour) => onEdit({ kind: 'colour_stints', stints: [stint.id], colour })}
        />
        {into && (
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onSelect({ kind: 'join', incoming: stint.id })}
          >
            {into.end > into.start
              ? `Its join, ${Math.round(into.end - into.start)} frames`
              : 'Its cut'}
          </button>
        )}
        {stint.source.kind === 'clip' ? (
          <Link className="btn btn-paper" to={`/clips/${stint.source.id}`}>
            {stint.clip_name} on the bench
          </Link>
        ) : (
          <Link className="btn btn-paper" to={`/scenes/${stint.source.id}`}>
            Open {stint.clip_name}
          </Link>
        )}
        {!locked && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Split at the playhead', 'split')}
              onClick={() => onEdit(splitAt(stint.id, player.frame))}
            >
              Split
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Duplicate', 'duplicate')}
              onClick={() => onEdit(duplicateOf([stint.id], ripple))}
            >
              Duplicate
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title={withKey(
                stint.nailed
                  ? 'Carry on from the stint before again'
                  : 'Stay on this spot, whatever comes before',
                'nail',
              )}
              onClick={() => onEdit({ kind: 'nail_stint', stint: stint.id, nailed: !stint.nailed })}
            >
              {stint.nailed ? 'Chain it' : 'Nail down'}
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Delete', 'remove')}
              onClick={() => onEdit({ kind: 'delete_stints', stints: [stint.id], ripple })}
            >
              Delete
            </button>
          </div>
        )}
      </div>
    </aside>
  );
}

export const splitAt = (stint: string, frame: number): Edit => ({
  kind: 'split_stint',
  stint,
  frame,
  new_stint: newId(),
});

export const duplicateOf = (stints: readonly string[], ripple: boolean): Edit => ({
  kind: 'duplicate_stints',
  stints: [...stints],
  new_stints: stints.map(() => newId()),
  ripple,
});

type Shown = Readonly<Record<Number, number>>;

/** Numbers as they are read: frames that show, first and last; the scene's from its first frame. */
function shownNumbers({ numbers }: Stint, firstFrame: number): Shown {
  const way = numbers.pace < 0 ? -1 : 1;
  return {
    scene_from: numbers.scene_from + firstFrame,
    scene_to: numbers.scene_to - 1 + firstFrame,
    clip_from: numbers.clip_from,
    clip_to: numbers.clip_to - way,
    pace: numbers.pace * 100,
  };
}

/** What was written, as the core counts: from 0 and half open. */
function madeOf(stint: Stint, desk: CardProps['desk'], number: Number, value: number): number {
  if (number === 'scene_from') return value - desk.first_frame;
  if (number === 'scene_to') return value + 1 - desk.first_frame;
  if (number === 'clip_to') return value + (stint.numbers.pace < 0 ? -1 : 1);
  return number === 'pace' ? value / 100 : value;
}

/** After a change: every number that is another now, from and to. */
function useFollowed(stint: Stint, shown: Shown): string {
  const before = useRef({ id: stint.id, shown });
  const [said, setSaid] = useState('');
  useEffect(() => {
    const last = before.current;
    before.current = { id: stint.id, shown };
    if (last.id !== stint.id) return;
    const changed = NUMBERS.filter((name) => Math.abs(last.shown[name] - shown[name]) > 1e-6);
    if (!changed.length) return;
    const parts = changed.map(
      (name) => `${NAMES[name]} ${short(last.shown[name])} → ${short(shown[name])}`,
    );
    setSaid(`Now: ${parts.join('; ')}.`);
  });
  return said;
}

const short = (value: number): string => String(Math.round(value * 100) / 100);
const capital = (text: string): string => text[0].toUpperCase() + text.slice(1);
