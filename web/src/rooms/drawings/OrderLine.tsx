import { useEffect, useState } from 'react';
import { Choice, NumberBox } from '../../app/controls';
import type { DrawingsRoomParts } from './room';

const EXPOSURES = [
  { value: '1', text: 'on ones' },
  { value: '2', text: 'on twos' },
  { value: '3', text: 'on threes' },
  { value: '4', text: 'on fours' },
] as const;

type Exposure = (typeof EXPOSURES)[number]['value'];

/** The order as it is typed, its exposures, and how long it is. */
export function OrderLine({ room }: { readonly room: DrawingsRoomParts }) {
  const { sheet, run, onEdit } = room;
  const on = sheet.pattern?.length === 1 ? String(sheet.pattern[0]) : null;
  const { uses } = sheet;
  return (
    <div className="order-line">
      <span className="pair">
        <span className="quiet">Order</span>
        <Typed
          key={sheet.order}
          label="Order of the drawings"
          standing={sheet.order}
          className="order-text"
          disabled={!run.may_change}
          hint="Like 1-8, 8-1 on 3, 9 hold 12"
          onCommit={(order) => onEdit({ kind: 'order_run', order, frames: 2 })}
        />
      </span>
      <span className="pair">
        <span className="quiet">Exposure</span>
        <Choice<Exposure>
          label="Exposure"
          options={EXPOSURES}
          value={EXPOSURES.find(({ value }) => value === on)?.value ?? null}
          disabled={!run.may_change}
          onChange={(frames) => onEdit({ kind: 'expose_run', pattern: [Number(frames)] })}
        />
        <Typed
          label="Pattern of exposures"
          standing=""
          className="pattern-text"
          disabled={!run.may_change}
          hint="A pattern like 2, 2, 3, 1, over and over"
          placeholder="2, 2, 3, 1"
          onCommit={(text) => {
            const pattern = text.split(/[\s,]+/).map(Number);
            if (pattern.every((n) => Number.isInteger(n) && n > 0))
              onEdit({ kind: 'expose_run', pattern });
          }}
        />
      </span>
      {run.may_change && <Squeeze room={room} />}
      <span className="grow" />
      <span className="order-told">
        <b className="number">{sheet.round_frames}</b> fr{' '}
        {sheet.run.play === 'once' ? 'in all' : 'a round'}
        {uses && (
          <>
            {' '}
            · every drawing{' '}
            <b className="number">
              {uses.least === uses.most ? uses.least : `${uses.least} to ${uses.most}`}
            </b>{' '}
            times in {uses.rounds} rounds
          </>
        )}
      </span>
    </div>
  );
}

/** The order over fewer or more frames. */
function Squeeze({ room }: { readonly room: DrawingsRoomParts }) {
  const { sheet, onEdit } = room;
  const [how, setHow] = useState<'even' | 'every'>('even');
  return (
    <span className="pair">
      <span className="quiet">Into</span>
      <NumberBox
        label="Squeeze the order into so many frames"
        value={sheet.order_frames}
        unit="fr"
        smallest={1}
        largest={200_000}
        onCommit={(frames) => onEdit({ kind: 'squeeze_run', frames, how })}
      />
      <select
        className="form-select w-auto"
        aria-label="How it is squeezed"
        value={how}
        onChange={({ target }) => setHow(target.value as 'even' | 'every')}
      >
        <option value="even">evenly</option>
        <option value="every">every drawing</option>
      </select>
    </span>
  );
}

interface TypedProps {
  readonly label: string;
  readonly standing: string;
  readonly className: string;
  readonly hint: string;
  readonly placeholder?: string;
  readonly disabled: boolean;
  readonly onCommit: (text: string) => void;
}

/** A text that is kept by Enter or by leaving, and put back by Escape. */
function Typed({ label, standing, className, hint, placeholder, disabled, onCommit }: TypedProps) {
  const [text, setText] = useState(standing);
  useEffect(() => setText(standing), [standing]);
  return (
    <input
      className={`form-control number ${className}`}
      aria-label={label}
      title={hint}
      placeholder={placeholder}
      value={text}
      disabled={disabled}
      onChange={({ target }) => setText(target.value)}
      onBlur={() => {
        if (text.trim() && text !== standing) onCommit(text);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          setText(standing);
          // The field is left with what stood in it.
          const box = event.currentTarget;
          requestAnimationFrame(() => box.blur());
        }
      }}
    />
  );
}
