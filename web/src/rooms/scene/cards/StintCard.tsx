import { Link } from 'react-router';
import type { Schemas } from '../../../api/client';
import { newId } from '../../../api/newId';
import { CardHead } from '../../../app/CardHead';
import { ColourChoice } from '../../../app/ColourChoice';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import { PinShown } from '../drawings/PinShown';
import type { Crossing } from '../useCrossing';
import type { Edit } from '../useScene';
import { CrossStage } from './CrossStage';
import type { CardProps } from './card';
import { InkFields } from './InkFields';
import { StintNumbers } from './StintNumbers';
import { StintTime } from './StintTime';
import { StintTravel } from './StintTravel';
import { StintVoice } from './StintVoice';
import { StintWeight } from './StintWeight';

type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];
const GAP_RULES = [
  ['rest', 'rests'],
  ['hold', 'holds'],
  ['wait', 'waits in the next'],
  ['ease', 'eases over'],
] as const;

export interface StintCardProps extends CardProps {
  readonly crossing: Crossing;
  readonly onSlow: () => void;
  readonly drawn: Edit | null;
}

/** A stint: its numbers, its feet, what it leaves out, its name and colour, and what can be done with it. */
export function StintCard(props: StintCardProps & { lane: Lane; stint: Stint }) {
  const { crossing, scene, desk, lane, stint, head, options, onEdit, onSelect } = props;
  const locked = !scene.may_change || lane.locked;
  const { ripple } = options;
  const into = [...lane.joins, ...lane.cuts].find((join) => join.incoming === stint.id);
  const isBody = lane.target.kind === 'body';
  const gap = lane.gaps.find((other) => other.after === stint.id);

  return (
    <aside className="side" aria-label={`Stint: ${stint.name}`}>
      <CardHead title={stint.name} colour={stint.colour} onClose={() => onSelect(null)} />
      <div className="body">
        <StintNumbers
          desk={desk}
          options={options}
          stint={stint}
          disabled={locked}
          onEdit={onEdit}
        />
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
        <StintTime
          scene={scene}
          desk={desk}
          head={head}
          options={options}
          lane={lane}
          stint={stint}
          disabled={locked}
          onEdit={onEdit}
          onSlow={props.onSlow}
        />
        {isBody && (
          <StintTravel
            scene={scene}
            drawn={props.drawn}
            desk={desk}
            stint={stint}
            disabled={locked}
            onEdit={onEdit}
          />
        )}
        {isBody && (
          <Tick
            label="Hold the feet"
            hint="Planted feet stand still all through the stint"
            checked={stint.holds_feet}
            disabled={locked}
            onChange={(holds) => onEdit({ kind: 'hold_stint_feet', stint: stint.id, holds })}
          />
        )}
        {stint.source.kind === 'run' && !locked && (
          <PinShown desk={desk} head={props.head} stint={stint} onEdit={onEdit} />
        )}
        {lane.target.kind === 'body' && (
          <InkFields
            of={{ stint: stint.id }}
            ink={stint.made.ink}
            hint="While it plays, its figure’s outline strays; without, as the figure’s"
            disabled={locked}
            onEdit={onEdit}
          />
        )}
        {stint.source.kind === 'line' && (
          <StintVoice
            stint={stint}
            figure={desk.figures.find(({ id }) => id === lane.figure)?.figure ?? ''}
            disabled={locked}
            onEdit={onEdit}
          />
        )}
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
          <StintWeight stint={stint} head={head} disabled={locked} onEdit={onEdit} />
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
        <SourceLink stint={stint} />
        {!locked && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Split at the playhead', 'split')}
              onClick={() => onEdit(splitAt(stint.id, head.frame))}
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
            {isBody && (
              <button
                type="button"
                className="btn btn-paper"
                title={withKey(
                  stint.nailed
                    ? 'Carry on from the stint before again'
                    : 'Stay on this spot, whatever comes before',
                  'nail',
                )}
                onClick={() =>
                  onEdit({ kind: 'nail_stint', stint: stint.id, nailed: !stint.nailed })
                }
              >
                {stint.nailed ? 'Chain it' : 'Nail down'}
              </button>
            )}
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

/** To the room of what a stint plays. */
function SourceLink({ stint }: { readonly stint: Stint }) {
  const { kind, id } = stint.source;
  const [to, text] = {
    clip: [`/clips/${id}`, `${stint.clip_name} on the bench`],
    line: [`/lines/${id}`, 'To its words and mouths'],
    run: [`/runs/${id}`, `${stint.clip_name} on the light table`],
    scene: [`/scenes/${id}`, `Open ${stint.clip_name}`],
    group: [`/scenes/${id}`, `Open ${stint.clip_name}`],
  }[kind];
  return (
    <Link className="btn btn-paper" to={to}>
      {text}
    </Link>
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
