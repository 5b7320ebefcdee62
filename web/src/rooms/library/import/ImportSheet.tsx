import { useEffect, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { IconButton } from '../../../app/controls';
import { useNotices } from '../../../app/notices';
import { JobProgress } from '../jobs/JobProgress';
import type { Job } from '../jobs/useJobs';
import { FileChoices } from './FileChoices';
import { type Incoming, useIncoming } from './useIncoming';

interface SheetProps {
  readonly production: string;
  readonly files: readonly File[];
  /** Files that were sent before, and read since. */
  readonly read: readonly Job[];
  readonly onClose: () => void;
}

const STATES: Readonly<Record<Incoming['state'], string>> = {
  waits: 'waits',
  sending: 'sending',
  reading: 'being read',
  ready: 'to be brought in',
  'coming in': 'coming in …',
  in: 'in the library',
  refused: 'cannot be read',
  cancelled: 'cancelled',
};

/** Reads files, says what each is, shows it move, and asks what to make of it. */
export function ImportSheet({ production, files, read, onClose }: SheetProps) {
  const go = useNavigate();
  const { rows, change, cancel, bringIn, jobOf } = useIncoming(
    production,
    files,
    read,
    // A take alone is gone to: it is to be cleaned.
    (take) => {
      if (files.length + read.length === 1) go(`/takes/${take}`);
    },
  );
  const notices = useNotices();
  const [chosen, setChosen] = useState<number | null>(null);
  const here =
    rows.find((row) => row.id === chosen) ?? rows.find((row) => row.state === 'ready') ?? rows[0];
  const ready = rows.filter((row) => row.state === 'ready' && row.wish?.name.trim());
  const busy = rows.some((row) => ['waits', 'sending'].includes(row.state));
  const title = rows.length === 1 ? `Bring in ${rows[0].name}` : `Bring in ${rows.length} files`;
  // One file alone has nothing more to say here once it is in.
  const alone = rows.length === 1 && rows[0].state === 'in' ? rows[0].says : null;
  useEffect(() => {
    if (alone === null) return;
    notices.say(alone);
    onClose();
  }, [alone, notices, onClose]);
  return (
    <Modal show onHide={onClose} aria-labelledby="import-title" size="xl" backdrop="static">
      <Modal.Header closeButton>
        <Modal.Title id="import-title">{title}</Modal.Title>
      </Modal.Header>
      <Modal.Body className="import-sheet">
        {rows.length > 1 && (
          <ul className="incoming" aria-label="Files">
            {rows.map((row) => (
              <li key={row.id} className={`is-${row.state.replace(' ', '-')}`}>
                <button
                  type="button"
                  aria-current={row.id === here?.id}
                  onClick={() => setChosen(row.id)}
                >
                  <span className="name">{row.name}</span>
                  <span className="quiet">
                    {STATES[row.state]}
                    {row.state === 'sending' && `, ${Math.round(row.share * 100)} %`}
                  </span>
                </button>
                {(row.state === 'sending' || row.job) && (
                  <IconButton
                    icon="x-lg"
                    label={`Cancel ${row.name}`}
                    onClick={() => cancel(row)}
                  />
                )}
              </li>
            ))}
          </ul>
        )}
        <div className="incoming-file">
          {here && (
            <OneFile
              key={here.id}
              production={production}
              row={here}
              job={jobOf(here)}
              onCancel={() => cancel(here)}
              onWish={(wish) => change(here.id, { wish: here.wish && { ...here.wish, ...wish } })}
            />
          )}
        </div>
      </Modal.Body>
      <Modal.Footer>
        <button type="button" className="btn btn-paper" onClick={onClose}>
          {ready.length || busy ? 'Cancel' : 'Close'}
        </button>
        {ready.length > 1 && (
          <button
            type="button"
            className="btn btn-paper"
            onClick={async () => {
              for (const row of ready) await bringIn(row);
            }}
          >
            Bring in all {ready.length}
          </button>
        )}
        {here?.state === 'ready' && (
          <button
            type="button"
            className="btn btn-lamp"
            disabled={!here.wish?.name.trim()}
            onClick={() => {
              setChosen(null);
              void bringIn(here);
            }}
          >
            Bring it in
          </button>
        )}
      </Modal.Footer>
    </Modal>
  );
}

interface OneFileProps {
  readonly production: string;
  readonly row: Incoming;
  readonly job: Job | null;
  readonly onCancel: () => void;
  readonly onWish: Parameters<typeof FileChoices>[0]['onWish'];
}

function OneFile({ production, row, job, onCancel, onWish }: OneFileProps) {
  if (row.state === 'waits') return <p className="quiet">It waits for the files before it.</p>;
  if (row.job || row.state === 'reading') {
    return (
      <div>
        <p className="mb-2">
          {row.state === 'reading'
            ? 'Reading the motion'
            : `Making ${row.wish?.name ?? 'the clip'}`}
        </p>
        {job && <JobProgress job={job} onCancel={onCancel} />}
        <p className="quiet mt-3">It goes on if you close this; the library shows how far it is.</p>
      </div>
    );
  }
  if (row.state === 'sending') {
    return (
      <div>
        <p className="mb-2">
          {row.share < 1
            ? `Sending, ${Math.round(row.share * 100)} % of ${((row.file?.size ?? 0) / 1e6).toFixed(1)} MB`
            : 'Reading the motion …'}
        </p>
        <progress aria-label="Progress" value={row.share} />
        <button type="button" className="btn btn-paper mt-3" onClick={onCancel}>
          Cancel
        </button>
      </div>
    );
  }
  if (row.state === 'refused') {
    return (
      <div>
        <p className="refusal" role="alert">
          {row.says}
        </p>
        <p className="quiet mt-2">Nothing of it was brought in; the library is as it was.</p>
      </div>
    );
  }
  if (row.state === 'in' || row.state === 'cancelled') {
    return <p className={row.state === 'in' ? 'says' : 'quiet'}>{row.says}</p>;
  }
  if (!row.report || !row.wish) return null;
  return (
    <>
      <FileChoices production={production} report={row.report} wish={row.wish} onWish={onWish} />
      {row.says && (
        <p className="refusal mt-3" role="alert">
          {row.says}
        </p>
      )}
    </>
  );
}
