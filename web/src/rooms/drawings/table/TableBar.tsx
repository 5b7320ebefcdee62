import { useState } from 'react';
import { Choice, NumberBox, Tick } from '../../../app/controls';
import { withDrawingsKey } from '../drawingsKeys';
import type { TableHand } from '../drawingsMemory';
import type { DrawingsRoomParts } from '../room';
import { pointNames } from '../spacing';

const HANDS: readonly {
  readonly value: TableHand;
  readonly text: string;
  readonly hint: string;
}[] = [
  { value: 'look', text: 'Look', hint: 'The table is looked at' },
  { value: 'nudge', text: 'Nudge', hint: 'Draw a drawing on its pegs; Alt with arrows by a pixel' },
  { value: 'mark', text: 'Mark', hint: 'Press where the followed point is on this drawing' },
];

const NEW_POINT = 'a new point …';

/** The light, how many neighbours show, what the hand does, and which point is followed. */
export function TableBar({ room }: { readonly room: DrawingsRoomParts }) {
  const { memory, change, sheet, drawn } = room;
  const [isNaming, setNaming] = useState(false);
  const names = [...new Set([...pointNames(sheet), memory.point])];
  const mayChange = drawn?.may_change ?? false;
  return (
    <div className="table-bar" role="toolbar" aria-label="Light table">
      <Tick
        label="Light"
        hint={withDrawingsKey('Neighbours show through', 'light')}
        checked={memory.light}
        onChange={(light) => change({ light })}
      />
      <span className="pair">
        <span className="quiet">Neighbours</span>
        <NumberBox
          label="Neighbours before"
          value={memory.before}
          smallest={0}
          largest={6}
          onCommit={(before) => change({ before })}
        />
        <NumberBox
          label="Neighbours after"
          value={memory.after}
          smallest={0}
          largest={6}
          onCommit={(after) => change({ after })}
        />
      </span>
      {mayChange && (
        <Choice<TableHand>
          label="What the hand does"
          options={HANDS}
          value={memory.hand}
          onChange={(hand) => change({ hand })}
        />
      )}
      <span className="grow" />
      <span className="pair">
        <span className="quiet">Spacing of</span>
        {isNaming ? (
          <input
            className="form-control point-name"
            aria-label="Name of the point"
            // biome-ignore lint/a11y/noAutofocus: it was just asked for
            autoFocus
            maxLength={60}
            onBlur={({ target }) => {
              const point = target.value.trim();
              if (point) change({ point, hand: 'mark' });
              setNaming(false);
            }}
            onKeyDown={(event) => {
              if (event.key === 'Escape') event.currentTarget.value = '';
              if (event.key === 'Enter' || event.key === 'Escape') event.currentTarget.blur();
            }}
          />
        ) : (
          <select
            className="form-select w-auto"
            aria-label="The point that is followed"
            value={memory.point}
            onChange={({ target }) =>
              target.value === NEW_POINT ? setNaming(true) : change({ point: target.value })
            }
          >
            {names.map((name) => (
              <option key={name}>{name}</option>
            ))}
            {mayChange && <option>{NEW_POINT}</option>}
          </select>
        )}
      </span>
      <span className="quiet flip-hint">
        Flip: hold <kbd className="keycap">Page up</kbd> <kbd className="keycap">Page down</kbd>
      </span>
    </div>
  );
}
