import { useEffect, useId, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { FieldLine, NumberBox, Tick } from '../../app/controls';
import { useNotices } from '../../app/notices';
import { JobProgress } from './jobs/JobProgress';
import type { Job } from './jobs/useJobs';
import { useBringDrawings } from './useBringDrawings';

interface SheetProps {
  readonly production: string;
  readonly files: readonly File[];
  /** The set that they go into; without one they become a set. */
  readonly into?: {
    readonly id: string;
    readonly name: string;
    readonly numbers: readonly number[];
  };
  readonly onClose: () => void;
  /** Hear of it when they are in. */
  readonly onIn: (job: Job) => void;
}

const MOST_SHOWN = 10;

/** Pictures become a drawing set with a run of all of it, or go into a set that is there. */
export function BringDrawingsSheet({ production, files, into, onClose, onIn }: SheetProps) {
  const id = useId();
  const notices = useNotices();
  const [name, setName] = useState(() => into?.name ?? nameOf(files));
  const [replace, setReplace] = useState(false);
  const [isSheet, setIsSheet] = useState(false);
  const [grid, setGrid] = useState({ columns: 4, rows: 2 });
  const { now, job, send, cancel } = useBringDrawings(production, files, (made) => {
    notices.say(made.says.join(' '));
    onIn(made);
    onClose();
  });
  const alone = files.length === 1 ? files[0] : null;
  const canCut = alone !== null && /\.(png|jpe?g|webp)$/i.test(alone.name);
  const isBusy = now.state === 'sending';
  const make = () =>
    void send({ name: name.trim(), into: into?.id ?? null, replace, grid: isSheet ? grid : null });
  const previews = usePreviews(files);
  const close = () => {
    if (isBusy) cancel();
    onClose();
  };
  return (
    <Modal show onHide={close} aria-labelledby={id} backdrop="static">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() && !isBusy) make();
        }}
      >
        <Modal.Header closeButton>
          <Modal.Title id={id}>
            {into ? `More drawings for ${into.name}` : 'New drawings'}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body className="new-sheet bring-drawings">
          <ul className="coming-sheets" aria-label="What comes in">
            {files.slice(0, MOST_SHOWN).map((file, place) => (
              <li key={file.name}>
                {previews[place] && <img src={previews[place]} alt="" />}
                <span title={file.name}>{file.name}</span>
              </li>
            ))}
            {files.length > MOST_SHOWN && (
              <li className="quiet">and {files.length - MOST_SHOWN} more</li>
            )}
          </ul>
          <p className="quiet">
            {alone
              ? 'A zip, an animation or a movie is taken apart.'
              : `${files.length} pictures, by the numbers in their names.`}
          </p>
          {!into && (
            <FieldLine name="Name" isFirst>
              <input
                className="form-control w-auto"
                aria-label="Name of the drawings"
                value={name}
                maxLength={120}
                disabled={isBusy}
                onChange={({ target }) => setName(target.value)}
              />
            </FieldLine>
          )}
          {canCut && (
            <Tick
              label="It is one sheet of many drawings, to be cut"
              checked={isSheet}
              disabled={isBusy}
              onChange={setIsSheet}
            />
          )}
          {isSheet && (
            <FieldLine name="Cut into">
              <NumberBox
                label="Drawings beside each other"
                value={grid.columns}
                unit="across"
                smallest={1}
                largest={100}
                onCommit={(columns) => setGrid({ ...grid, columns })}
              />
              <NumberBox
                label="Rows of drawings"
                value={grid.rows}
                unit="down"
                smallest={1}
                largest={100}
                onCommit={(rows) => setGrid({ ...grid, rows })}
              />
            </FieldLine>
          )}
          {into && (
            <Tick
              label="Replace drawings that have the same numbers"
              hint="Their exposures, their places and their points stay"
              checked={replace}
              disabled={isBusy}
              onChange={setReplace}
            />
          )}
          {isBusy && !job && (
            <div className="job-progress">
              <progress
                aria-label="Progress of sending"
                value={(now.kept + now.share) / files.length}
              />
              <span className="quiet number">
                {now.kept} of {files.length} sent
              </span>
            </div>
          )}
          {isBusy && job && <JobProgress job={job} onCancel={cancel} />}
          {now.problem && (
            <p className="refusal" role="alert">
              {now.problem}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={close}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp" disabled={!name.trim() || isBusy}>
            {into ? 'Add them' : 'Bring them in'}
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}

/** What the files have in common in their names, without what tells their numbers. */
function nameOf(files: readonly File[]): string {
  const [first] = files;
  const folder = first?.webkitRelativePath.split('/').at(-2);
  const stem = (folder ?? first?.name ?? '').replace(/\.[^.]+$/, '');
  const bare = files.length > 1 || folder ? stem.replace(/[\s_\-.#]*\d+$/, '') : stem;
  const words = (bare || stem).replace(/[_-]+/g, ' ').trim();
  return words ? words[0].toUpperCase() + words.slice(1) : 'Drawings';
}

/** The first of them as small pictures, where the browser can show them. */
function usePreviews(files: readonly File[]): readonly (string | undefined)[] {
  const [urls, setUrls] = useState<readonly (string | undefined)[]>([]);
  useEffect(() => {
    const made = files
      .slice(0, MOST_SHOWN)
      .map((file) => (file.type.startsWith('image/') ? URL.createObjectURL(file) : undefined));
    setUrls(made);
    return () => {
      for (const url of made) if (url) URL.revokeObjectURL(url);
    };
  }, [files]);
  return urls;
}
