import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import type { CardProps } from './card';

type Span = Schemas['StrandPin']['span'];

interface PinCardProps extends CardProps {
  readonly stint: Schemas['DeskStint'] | null;
  readonly place: number;
  readonly strands: Schemas['Strands'];
}

const SPANS: readonly { readonly value: Span; readonly text: string; readonly hint: string }[] = [
  { value: 'even', text: 'even', hint: 'One pace up to the next pin' },
  { value: 'eased', text: 'eased', hint: 'Smoothly, never beyond its pins' },
  { value: 'ramped', text: 'ramped', hint: 'The pace changes evenly up to the next pin' },
  { value: 'held', text: 'held', hint: 'It stands until the next pin, and jumps there' },
];

/** A pin: what plays when, and how time runs from it to the next. */
export function PinCard(props: PinCardProps) {
  const { scene, desk, options, stint, place, strands, onEdit, onSelect } = props;
  const pin = strands.pins[place];
  const after = strands.pins[place + 1];
  const locked = !scene.may_change;
  const { ripple } = options;
  const first = desk.first_frame;
  const firstSource = stint ? 0 : first;
  const of = stint?.id ?? null;
  const set = (part: Partial<Omit<Schemas['SetPin'], 'kind' | 'stint' | 'pin' | 'ripple'>>) =>
    onEdit({ kind: 'set_pin', stint: of, pin: place, ripple, ...part });
  return (
    <aside className="side" aria-label="Pin">
      <CardHead
        title={`A pin of ${stint?.name ?? 'the scene'}`}
        colour={stint?.colour ?? null}
        onClose={() => onSelect(stint ? { kind: 'stints', ids: [stint.id] } : null)}
      />
      <div className="body">
        <FieldLine name={stint ? 'Of the clip' : 'Laid'}>
          <NumberBox
            label={stint ? 'Frame of the clip that is pinned' : 'Laid frame that is pinned'}
            value={pin.source + firstSource}
            decimals={2}
            disabled={locked}
            onCommit={(value) => set({ source: value - firstSource })}
          />
        </FieldLine>
        <FieldLine name="Plays at">
          <NumberBox
            label="Frame that it plays at"
            value={pin.played + first}
            decimals={2}
            disabled={locked || place === 0}
            onCommit={(value) => set({ played: value - first })}
          />
        </FieldLine>
        {after && (
          <>
            <h3>
              From here to the next pin{' '}
              <em>{Math.round((after.played - pin.played) * 10) / 10} fr</em>
            </h3>
            <Choice<Span>
              label="How time runs up to the next pin"
              value={pin.span}
              disabled={locked}
              onChange={(span) => set({ span })}
              options={SPANS}
            />
            <FieldLine name="Pace">
              {pin.span === 'held' || pin.pace_after === 0 ? (
                <span className="quiet">held</span>
              ) : (
                <NumberBox
                  label="Pace in percent up to the next pin"
                  value={pin.pace_after * 100}
                  decimals={1}
                  unit="%"
                  disabled={locked}
                  onCommit={(value) =>
                    onEdit({
                      kind: 'set_pace',
                      stint: of,
                      pin: place,
                      pace: value / 100,
                      ripple,
                    })
                  }
                />
              )}
            </FieldLine>
          </>
        )}
        <p className="quiet">
          {ripple
            ? 'Ripple is on: what follows moves along.'
            : 'Ripple is off: what lies beyond the next pins stays.'}
        </p>
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            title="Delete, on the pin"
            onClick={() => {
              onEdit({ kind: 'remove_pin', stint: of, pin: place });
              onSelect(stint ? { kind: 'stints', ids: [stint.id] } : null);
            }}
          >
            Take it out
          </button>
        )}
      </div>
    </aside>
  );
}
