import { filmUrl, type PrintCard } from '../../api/prints';
import { Name } from '../../app/Name';
import { JobProgress } from '../library/jobs/JobProgress';
import type { Job } from '../library/jobs/useJobs';
import { framesSaid, madeSaid, megabytes, seconds } from './said';

interface DryingLineProps {
  readonly prints: readonly PrintCard[];
  readonly underWay: readonly Job[];
  readonly chosen: string | null;
  readonly under: string | null;
  readonly onChoose: (id: string) => void;
  readonly onCancel: (job: string) => void;
  readonly onPutAway: (job: string) => void;
}

/** All prints on the line, the newest first; those in work, and those that came to nothing, before them. */
export function DryingLine(props: DryingLineProps) {
  const { prints, underWay, chosen, under, onChoose, onCancel, onPutAway } = props;
  return (
    <ul className="drying-line" aria-label="On the line">
      {underWay.map((job) => (
        <li key={job.id} className="is-wet">
          <Name className="name" text={job.title} />
          {job.state === 'refused' ? (
            <>
              <span className="refusal">{job.says.join(' ')}</span>
              <button
                type="button"
                className="btn btn-paper"
                aria-label={`Put away ${job.title}`}
                onClick={() => onPutAway(job.id)}
              >
                Put away
              </button>
            </>
          ) : (
            <JobProgress job={job} onCancel={() => onCancel(job.id)} />
          )}
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
