import { jobFigure, jobShare } from '../../library/jobs/jobFigure';
import type { Coming } from './useSounds';

/** A sound on its way in: how much of it is sent, and then how far it is read. */
export function SoundComing({ name, share, job, onCancel }: Coming & { onCancel: () => void }) {
  return (
    <div className="sound-coming" role="status">
      <span className="clipped">{name}</span>
      <progress max={1} value={job ? jobShare(job) : share} aria-label={`${name}, on its way in`} />
      <span className="quiet">
        {job ? jobFigure(job) : share < 1 ? `${Math.floor(100 * share)} %` : 'is read'}
      </span>
      {(job || share < 1) && (
        <button type="button" className="btn btn-paper" onClick={onCancel}>
          Cancel
        </button>
      )}
    </div>
  );
}
