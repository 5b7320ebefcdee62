import { useEffect, useState } from 'react';
import type { RecordingHand } from './useRecording';

interface DeskProps {
  readonly hand: RecordingHand;
  readonly canRecord: boolean;
  readonly onRecord: () => void;
}

const TICK_MS = 100;

/** Arm, count down, stop: what is recorded cannot be overlooked. */
export function RecordDesk({ hand, canRecord, onRecord }: DeskProps) {
  const { under, job } = hand;
  const now = useNow(under !== null);
  const waits = under ? (new Date(under.begins).getTime() - now) / 1000 : 0;
  const isStopping = job?.is_cancelled === true;
  return (
    <div className="record-desk">
      <button
        type="button"
        className={`btn btn-record ${under ? 'is-on' : ''}`}
        disabled={hand.isBusy || isStopping || (!under && !canRecord)}
        title={under ? 'Stop, and keep the take (R)' : 'Record a take, after the countdown (R)'}
        onClick={onRecord}
      >
        <i className={`bi bi-${under ? 'stop-fill' : 'record-fill'}`} aria-hidden="true" />
        {under ? 'Stop' : 'Record'}
      </button>
      {under && (
        <button
          type="button"
          className="btn btn-paper"
          title="Stop, and throw away what came (X)"
          onClick={hand.throwAway}
        >
          Throw it away
        </button>
      )}
      <p className="grow record-told" role="status" aria-live="polite">
        {under && waits > 0 && (
          <>
            <b className="countdown number">{Math.ceil(waits)}</b>
            {under.job.title} begins. Nothing is recorded yet.
          </>
        )}
        {under && waits <= 0 && (
          <>
            <b className="is-recording">Recording</b> {under.job.title}:{' '}
            <span className="number">{(job?.figure ?? 0).toLocaleString('en')}</span> frames,{' '}
            <span className="number">{Math.max(0, -waits).toFixed(1)} s</span>
            {job?.state === 'waiting' && '. No worker has taken it up yet.'}
          </>
        )}
        {!under && (hand.says || 'Nothing is being recorded.')}
      </p>
    </div>
  );
}

/** The time, while it is wanted. */
function useNow(wanted: boolean): number {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    if (!wanted) return undefined;
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), TICK_MS);
    return () => clearInterval(timer);
  }, [wanted]);
  return now;
}
