import type { PrintRow } from '../../api/nightList';
import { filmUrl, type PrintCard } from '../../api/prints';
import { Name } from '../../app/Name';
import { paceSaid } from './night';
import { framesSaid, madeSaid, megabytes, seconds } from './said';

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
            <video
              src={`${filmUrl(print.id)}#t=${(seconds(print) / 2).toFixed(2)}`}
              preload="metadata"
              muted
              playsInline
              tabIndex={-1}
              aria-hidden="true"
            />
            <span className="slate">
              <Name className="name" text={print.name} />
              <b className="number">rev {print.revision}</b>
              <span>{madeSaid(print)}</span>
              <span className="number">
                {framesSaid(print)}, {seconds(print).toFixed(2)} s, {megabytes(print.size_bytes)}
              </span>
              {print.id === under && <em>under the pane</em>}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
