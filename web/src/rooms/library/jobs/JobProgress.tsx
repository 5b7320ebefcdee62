import { jobFigure, jobShare } from './jobFigure';
import { isUnderWay, type Job } from './useJobs';

interface LineProps {
  readonly job: Job;
  readonly onCancel: () => void;
}

/** A job's bar, its figure, and Cancel. */
export function JobProgress({ job, onCancel }: LineProps) {
  return (
    <div className="job-progress">
      <progress aria-label={`Progress of ${job.title}`} value={jobShare(job)} />
      <span className="quiet number">{jobFigure(job)}</span>
      {isUnderWay(job) && (
        <button
          type="button"
          className="btn btn-paper"
          aria-label={`Cancel ${job.title}`}
          disabled={job.is_cancelled}
          onClick={onCancel}
        >
          Cancel
        </button>
      )}
    </div>
  );
}
