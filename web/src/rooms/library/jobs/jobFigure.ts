import { isUnderWay, type Job } from './useJobs';

/** How far a job is, 0 to 1. */
export function jobShare(job: Job): number {
  if (job.state === 'done') return 1;
  return job.of > 0 ? Math.min(1, job.figure / job.of) : 0;
}

/** How far a job is, or what came of it, in words. */
export function jobFigure(job: Job): string {
  if (!isUnderWay(job)) return job.state === 'cancelled' ? 'Cancelled.' : job.says.join(' ');
  if (job.is_cancelled) return 'Stopping …';
  if (job.state === 'waiting') return 'Waits for a worker …';
  if (!job.of) return 'Begins …';
  const count = (figure: number) => figure.toLocaleString('en-GB');
  const percent = Math.floor(jobShare(job) * 100);
  return `${count(job.figure)} of ${count(job.of)} ${job.unit}, ${percent} %`;
}
