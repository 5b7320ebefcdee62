import { useState } from 'react';
import type { PartShown } from '../../api/cutOuts';
import { FieldLine, NumberBox, Tick } from '../../app/controls';
import { NameField } from '../../app/NameField';
import type { CutOutParts } from './room';

interface PartFieldsProps {
  readonly room: CutOutParts;
  readonly one: PartShown;
}

const PERCENT = 100;

/** One part: its name, what it hangs on, where it turns, and the drawings that it can show. */
export function PartFields({ room, one }: PartFieldsProps) {
  const { view, sheet, onEdit, onChoose } = room;
  const { part, partner } = one;
  const disabled = !view.may_change;
  const [x, y] = part.pivot ?? [0, 0];
  const to = (left: number, up: number) =>
    onEdit({ kind: 'move_pivot', part: part.name, to: [left / PERCENT, up / PERCENT] });
  return (
    <div className="part-fields">
      <NameField
        label="Called"
        value={part.name}
        disabled={disabled}
        onCommit={(name) => {
          onEdit({ kind: 'name_part', part: part.name, name });
          onChoose(name);
        }}
      />
      <FieldLine name="Hangs on">
        <select
          className="form-select w-auto"
          aria-label="Hangs on"
          value={part.parent ?? ''}
          disabled={disabled}
          onChange={({ target }) =>
            onEdit({ kind: 'hang_part', part: part.name, parent: target.value })
          }
        >
          <option value="">nothing: it carries the figure</option>
          {sheet.parts
            .filter((other) => other.part.name !== part.name)
            .map((other) => (
              <option key={other.part.name} value={other.part.name}>
                {other.part.name}
              </option>
            ))}
        </select>
      </FieldLine>
      <FieldLine name="Turns at">
        <span className="pair">
          <NumberBox
            label="Pivot to the right of the pegs"
            value={x * PERCENT}
            unit="% right"
            decimals={1}
            disabled={disabled}
            onCommit={(left) => to(left, y * PERCENT)}
          />
          <NumberBox
            label="Pivot over the pegs"
            value={y * PERCENT}
            unit="% up"
            decimals={1}
            disabled={disabled}
            onCommit={(up) => to(x * PERCENT, up)}
          />
        </span>
      </FieldLine>
      <DrawingsField room={room} one={one} />
      <Tick
        label="It has a tip of its own"
        hint="How far it reaches from its pivot: it counts for the figure’s height"
        checked={Boolean(part.tip)}
        disabled={disabled}
        onChange={(has) =>
          onEdit({ kind: 'move_tip', part: part.name, to: has ? [x + TIP, y] : null })
        }
      />
      <p className="quiet">
        {partner ? `Its partner is ${partner}.` : 'It has no partner on the other side.'}
      </p>
      {!disabled && (
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => {
            onEdit({ kind: 'drop_part', part: part.name });
            onChoose(null);
          }}
        >
          Take it out
        </button>
      )}
    </div>
  );
}

const TIP = 0.05;

/** The numbers of a part’s drawings, typed: the first shows, runs of the set swap the others in. */
function DrawingsField({ room, one }: PartFieldsProps) {
  const { part } = one;
  const standing = part.drawings.join(', ');
  const [text, setText] = useState<string | null>(null);
  const numbers = (text ?? '').match(/\d+/g)?.map(Number) ?? [];
  const commit = () => {
    if (numbers.length && numbers.join(', ') !== standing)
      room.onEdit({ kind: 'show_drawings', part: part.name, drawings: numbers });
    setText(null);
  };
  return (
    <FieldLine name="Drawings">
      <input
        className="form-control drawings-of"
        aria-label="Drawings of the part, the first shows"
        title="Their numbers: the first shows, runs of the set swap the others in"
        value={text ?? standing}
        disabled={!room.view.may_change}
        onChange={({ target }) => setText(target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') {
            setText(null);
            event.stopPropagation();
          }
        }}
      />
    </FieldLine>
  );
}
