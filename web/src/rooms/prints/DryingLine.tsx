import type { PrintRow } from '../../api/nightList';
import type { PrintCard } from '../../api/prints';
import { Name } from '../../app/Name';
import { paceSaid } from './night';
import { PrintThumb } from './PrintPicture';
import { framesSaid, lengthSaid, madeSaid, megabytes, revisionSaid, seconds } from './said';

interface DryingLineProps {
  readonly prints: readonly PrintCard[];
  /** What is being printed just now. */
  readonly wet: readonly PrintRow[];
  readonly chosen: string | null;
  readonly under: string | null;
  readonly onChoose: (id: string) => void;
}

/** All prints on the line, the newest first; those in work before them. */
export function DryingLine(props: DryingLineProps) {
  const { prints, wet, chosen, under, onChoose } = props;
  return (
    <ul className="drying-line" aria-label="On the line">
      {wet.map((row) => (
        <li key={row.id} className="is-wet">
          <Name className="name" text={row.title} />
          <progress aria-label={`${row.title} is being printed`} value={row.figure / row.of} />
          <span className="number">
            {row.figure} of {row.of}
          </span>
          <span className="quiet number">{paceSaid(row)}</span>
        </li>
      ))}
      {prints.map((print) => (
        <li key={print.id} className={print.id === chosen ? 'is-chosen' : ''}>
          <button
            type="button"
            aria-pressed={print.id === chosen}
            aria-label={`${print.name}, rev ${print.revision}, ${madeSaid(print)}`}
            onClick={(event) => {
              onChoose(print.id);
              // Whoever took it with the mouse plays it with the space bar next.
              if (event.detail > 0) event.currentTarget.blur();
            }}
          >
            <PrintThumb print={print} at={seconds(print) / 2} />
            <span className="slate">
              <Name className="name" text={print.name} />
              <b className="number">{revisionSaid(print)}</b>
              <span>{madeSaid(print)}</span>
              <span className="number">
                {[framesSaid(print), lengthSaid(print), megabytes(print.size_bytes)]
                  .filter((one) => one !== null)
                  .join(', ')}
              </span>
              {print.id === under && <em>under the pane</em>}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
