import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { libraryKey } from '../useLibrary';
import { JobProgress } from './JobProgress';
import { jobFigure } from './jobFigure';
import { isUnderWay, type Job, useJobHand, useJobs } from './useJobs';

interface ShelfProps {
  readonly production: string;
  readonly onBringIn: (read: Job) => void;
}

/** Long work under way, and what came of it until it is put away; it goes on when the page does not. */
export function JobShelf({ production, onBringIn }: ShelfProps) {
  const queries = useQueryClient();
  const jobs = useJobs(production).data ?? [];
  const { cancel, putAway } = useJobHand(production);
  const made = jobs.filter((job) => job.state === 'done' && job.file === null).length;
  useEffect(() => {
    if (made) void queries.invalidateQueries({ queryKey: libraryKey(production) });
  }, [made, queries, production]);
  if (!jobs.length) return null;
  return (
    <section className="jobs" aria-label="Long work">
      <h2>{jobs.some(isUnderWay) ? 'Under way' : 'Done'}</h2>
      <ul>
        {jobs.map((job) => (
          <li key={job.id} className={`is-${job.state}`}>
            <span className="name">{job.title}</span>
            {isUnderWay(job) ? (
              <JobProgress job={job} onCancel={() => cancel(job.id)} />
            ) : (
              <>
                <span className={job.state === 'refused' ? 'refusal grow' : 'grow'}>
                  {jobFigure(job)}
                </span>
                {job.file !== null && (
                  <button
                    type="button"
                    className="btn btn-lamp"
                    aria-label={`Bring in ${job.title}`}
                    onClick={() => onBringIn(job)}
                  >
                    Bring it in
                  </button>
                )}
                <button
                  type="button"
                  className="btn btn-paper"
                  aria-label={`Put away ${job.title}`}
                  onClick={() => putAway(job.id)}
                >
                  Put away
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
