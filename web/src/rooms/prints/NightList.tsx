import { type PrintRow, printAgain, putInOrder, putOff, takeOff } from '../../api/nightList';
import { IconButton, Tick } from '../../app/controls';
import { movedBy, paceSaid, rowSaid, tonight } from './night';
import { lookSaid } from './said';

interface NightListProps {
  readonly production: string;
  readonly rows: readonly PrintRow[];
  readonly mayChange: boolean;
  /** What the list is after a change, or why there was none. */
  readonly onChange: (change: Promise<readonly PrintRow[]>) => void;
}

/** What is printed and what waits, in the order it is taken up: a ruled page with ticks. */
export function NightList({ production, rows, mayChange, onChange }: NightListProps) {
  const waiting = rows.filter(({ state }) => state === 'waiting');
  return (
    <section className="night-list" aria-label="Night list">
      <header className="sheet-head">
        <h2>Night list</h2>
        <span className="quiet">
          {waiting.length
            ? 'From the top, one after the other; a row that is not ticked is held'
            : 'Nothing waits to be printed'}
        </span>
      </header>
      {rows.length > 0 && (
        <ol>
          {rows.map((row) => (
            <Row
              key={row.id}
              row={row}
              place={waiting.indexOf(row)}
              last={waiting.length - 1}
              mayChange={mayChange}
              onHold={(isHeld) =>
                onChange(putOff(production, row.id, { is_held: isHeld, not_before: null }))
              }
              onTonight={() =>
                onChange(
                  putOff(production, row.id, {
                    is_held: false,
                    not_before: tonight(new Date()).toISOString(),
                  }),
                )
              }
              onMove={(places) => {
                const order = movedBy(rows, row.id, places);
                if (order) onChange(putInOrder(production, order));
              }}
              onTakeOff={() => onChange(takeOff(production, row.id))}
              onAgain={() => onChange(printAgain(production, row.id))}
            />
          ))}
        </ol>
      )}
    </section>
  );
}

interface RowProps {
  readonly row: PrintRow;
  /** Its place among those that wait, and the last of them. */
  readonly place: number;
  readonly last: number;
  readonly mayChange: boolean;
  readonly onHold: (isHeld: boolean) => void;
  readonly onTonight: () => void;
  readonly onMove: (places: -1 | 1) => void;
  readonly onTakeOff: () => void;
  readonly onAgain: () => void;
}

function Row(props: RowProps) {
  const { row, place, last, mayChange } = props;
  const waits = row.state === 'waiting';
  const isOver = row.state === 'refused' || row.state === 'cancelled';
  const { title } = row;
  return (
    <li className={`is-${row.state}`}>
      <Tick
        label={title}
        hint="Ticked, it is printed when its turn comes"
        checked={!row.is_held && !isOver}
        disabled={!waits || !mayChange}
        onChange={(isOn) => props.onHold(!isOn)}
      />
      <span className="quiet">{lookSaid(row)}</span>
      <span className={row.state === 'refused' ? 'refusal state' : 'state'}>
        {row.state === 'running' && (
          <progress aria-label={`Progress of ${title}`} value={row.figure / Math.max(1, row.of)} />
        )}
        {rowSaid(row, new Date())}
      </span>
      <span className="quiet">{row.author}</span>
      <span className="quiet number">{paceSaid(row)}</span>
      <span className="hands">
        {waits && mayChange && (
          <>
            <IconButton
              icon="arrow-up"
              label={`${title}: earlier`}
              disabled={place <= 0}
              onClick={() => props.onMove(-1)}
            />
            <IconButton
              icon="arrow-down"
              label={`${title}: later`}
              disabled={place >= last}
              onClick={() => props.onMove(1)}
            />
            <IconButton
              icon="moon"
              label={`${title}: not before tonight, 01:00`}
              onClick={props.onTonight}
            />
          </>
        )}
        {isOver && mayChange && (
          <IconButton
            icon="arrow-repeat"
            label={`The same again: ${title}`}
            onClick={props.onAgain}
          />
        )}
        {mayChange && (
          <IconButton
            icon="x"
            label={isOver ? `Put away ${title}` : `Cancel ${title}`}
            disabled={row.is_cancelled && !isOver}
            onClick={props.onTakeOff}
          />
        )}
      </span>
    </li>
  );
}
