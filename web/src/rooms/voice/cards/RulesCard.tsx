import type { ReactNode } from 'react';
import type { LineSheet } from '../../../api/lines';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import type { VoiceRoomParts } from '../room';
import type { VoiceHands } from '../useVoiceActions';
import { ReadingBar } from './ReadingBar';

interface Props {
  readonly room: VoiceRoomParts;
  readonly hands: VoiceHands;
}

type Rules = LineSheet['rules'];
const EXPOSURES = ['ones', 'twos', 'threes', 'as spoken'] as const;
type Exposure = (typeof EXPOSURES)[number];

/** How mouths are exposed, and what came of it. */
export function RulesCard({ room, hands }: Props) {
  const { sheet, line, onEdit, goTo } = room;
  const { rules, told } = sheet;
  const mayChange = line.may_change;
  const set = (part: Partial<Rules>) =>
    onEdit({ kind: 'set_mouth_rules', rules: { ...rules, ...part } });
  const exposure: Exposure = rules.as_spoken ? 'as spoken' : EXPOSURES[(rules.on ?? 1) - 1];
  const firstByHand = sheet.run.find((one) => one.reason === 'by hand');
  const shortest = sheet.run.find((one) => one.length === told.shortest_frames);
  return (
    <div className="rules-card">
      <FieldLine name="Expose">
        <Choice<Exposure>
          label="Expose on"
          value={exposure}
          disabled={!mayChange}
          onChange={(wanted) =>
            set(
              wanted === 'as spoken'
                ? { as_spoken: true }
                : { as_spoken: false, on: EXPOSURES.indexOf(wanted) + 1 },
            )
          }
          options={EXPOSURES.map((value) => ({ value, text: value }))}
        />
      </FieldLine>
      <FieldLine name="Shortest mouth, its lead">
        <span className="two-numbers">
          <NumberBox
            label="Shortest mouth"
            value={rules.shortest ?? 2}
            unit="fr"
            smallest={1}
            largest={24}
            disabled={!mayChange || rules.as_spoken === true}
            onCommit={(shortest) => set({ shortest })}
          />
          <NumberBox
            label="Mouth leads the sound by"
            value={rules.lead ?? 1}
            unit="fr"
            smallest={0}
            largest={12}
            disabled={!mayChange}
            onCommit={(lead) => set({ lead })}
          />
        </span>
      </FieldLine>
      <Tick
        label="Always show closed lips for M B P, teeth for F V"
        checked={rules.shows_closures !== false}
        disabled={!mayChange}
        onChange={(shows_closures) => set({ shows_closures })}
      />
      <Tick
        label="Ease out of the last mouth"
        checked={rules.eases_out !== false}
        disabled={!mayChange}
        onChange={(eases_out) => set({ eases_out })}
      />
      <Blinks room={room} />
      <dl className="mouth-read-outs">
        <ReadOut name="Mouths in this line">{told.mouths}</ReadOut>
        <ReadOut name="Changes a second">{told.changes_a_second.toFixed(1)}</ReadOut>
        <ReadOut name="Shortest" onGo={shortest && (() => goTo(shortest.frame))}>
          {told.shortest_frames} fr
        </ReadOut>
        <ReadOut
          name="Closed lips shown"
          isGood={told.closures_shown === told.closures_wanted}
          isWrong={told.closures_shown < told.closures_wanted}
        >
          {told.closures_shown} of {told.closures_wanted}
        </ReadOut>
        <ReadOut name="Set by hand ✓" onGo={firstByHand && (() => goTo(firstByHand.frame))}>
          {told.by_hand}
        </ReadOut>
        <ReadOut name="No room, joined to a neighbour">{told.joined}</ReadOut>
      </dl>
      <ReadingBar room={room} hands={hands} />
    </div>
  );
}

const MOST_SEED = 999_999;

/** The line’s blinks: proposed by a seed that is shown, drawn anew, or set by hand. */
function Blinks({ room }: { readonly room: VoiceRoomParts }) {
  const { sheet, line, onEdit } = room;
  const count = sheet.blinks.length;
  const propose = (seed: number) => onEdit({ kind: 'propose_blinks', seed });
  return (
    <FieldLine name={count ? `Blinks ${count}` : 'Blinks'}>
      <span className="two-numbers">
        {count > 0 && (
          <NumberBox
            label="Seed of the blinks"
            value={sheet.blink_seed}
            smallest={0}
            largest={MOST_SEED}
            disabled={!line.may_change || !sheet.reading}
            onCommit={propose}
          />
        )}
        <button
          type="button"
          className="btn btn-paper"
          title="At the ends of phrases and in between, on no accent; K sets one by hand"
          disabled={!line.may_change || !sheet.reading}
          onClick={() => propose(count ? (sheet.blink_seed + 1) % MOST_SEED : sheet.blink_seed)}
        >
          {count ? 'Draw anew' : 'Propose'}
        </button>
      </span>
    </FieldLine>
  );
}

interface ReadOutProps {
  readonly name: string;
  readonly isGood?: boolean;
  readonly isWrong?: boolean;
  readonly onGo?: (() => void) | undefined;
  readonly children: ReactNode;
}

/** A number that was measured; pressed it goes to where it was. */
function ReadOut({ name, isGood, isWrong, onGo, children }: ReadOutProps) {
  return (
    <div className={`mouth-read-out ${isGood ? 'is-good' : ''} ${isWrong ? 'is-wrong' : ''}`}>
      <dt>{name}</dt>
      <dd className="number">
        {onGo ? (
          <button type="button" className="btn-link-plain" onClick={onGo}>
            {children}
          </button>
        ) : (
          children
        )}
      </dd>
    </div>
  );
}
