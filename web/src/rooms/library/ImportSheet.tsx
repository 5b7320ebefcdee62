import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Modal, ProgressBar } from 'react-bootstrap';
import { answered, api, type Schemas, sendFile, sentence } from '../../api/client';
import { Choice, NumberBox } from '../../app/controls';
import { useNotices } from '../../app/notices';
import { libraryKey } from './useLibrary';

type Report = Schemas['FileReport'];
type CycleChoice = 'found' | 'cycle' | 'once';

interface SheetProps {
  readonly production: string;
  readonly file: File;
  readonly onClose: () => void;
}

/** Reads a motion file, says what it is, and asks what to make of it. */
export function ImportSheet({ production, file, onClose }: SheetProps) {
  const [report, setReport] = useState<Report | null>(null);
  const [progress, setProgress] = useState(0);
  const [refusal, setRefusal] = useState<string | null>(null);

  useEffect(() => {
    const abort = new AbortController();
    sendFile(production, file, setProgress, abort.signal)
      .then(setReport)
      .catch((problem) => {
        if (!abort.signal.aborted) setRefusal(sentence(problem));
      });
    return () => abort.abort();
  }, [production, file]);

  return (
    <Modal show onHide={onClose} aria-labelledby="import-title" size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="import-title">Bring in {file.name}</Modal.Title>
      </Modal.Header>
      {refusal && (
        <>
          <Modal.Body>
            <p className="refusal" role="alert">
              {refusal}
            </p>
            <p className="quiet mt-2">Nothing was brought in; the library is as it was.</p>
          </Modal.Body>
          <Modal.Footer>
            <button type="button" className="btn btn-paper" onClick={onClose}>
              Close
            </button>
          </Modal.Footer>
        </>
      )}
      {!report && !refusal && (
        <Modal.Body>
          <p className="mb-2">
            {progress < 1 ? `Sending, ${Math.round(progress * 100)} %` : 'Reading the motion …'}
          </p>
          <ProgressBar now={progress * 100} aria-label="Progress" variant="warning" />
          <button type="button" className="btn btn-paper mt-3" onClick={onClose}>
            Cancel
          </button>
        </Modal.Body>
      )}
      {report && <Choices production={production} report={report} onClose={onClose} />}
    </Modal>
  );
}

interface ChoicesProps {
  readonly production: string;
  readonly report: Report;
  readonly onClose: () => void;
}

function Choices({ production, report: first, onClose }: ChoicesProps) {
  const queries = useQueryClient();
  const notices = useNotices();
  const [name, setName] = useState(first.suggested_name);
  const [range, setRange] = useState({ start: 0, end: first.frames });
  const [rate, setRate] = useState(first.rate);
  const [height, setHeight] = useState(first.height_metres);
  const [cycle, setCycle] = useState<CycleChoice>('found');
  const nameField = useRef<HTMLInputElement>(null);

  const ranged = useQuery({
    queryKey: ['file', production, first.file, range.start, range.end],
    queryFn: () =>
      answered(
        api.GET('/api/productions/{production_id}/files/{sha256}', {
          params: {
            path: { production_id: production, sha256: first.file },
            query: { start: range.start, end: range.end },
          },
        }),
      ),
    placeholderData: first,
  });
  const report = ranged.data ?? first;

  const bringIn = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/productions/{production_id}/clips', {
          params: { path: { production_id: production } },
          body: {
            file: first.file,
            name,
            start: range.start,
            end: range.end,
            rate,
            metres_per_unit: first.height_in_file > 0 ? height / first.height_in_file : null,
            is_cycle: cycle === 'found' ? null : cycle === 'cycle',
          },
        }),
      ),
    onSuccess: async (imported) => {
      await queries.invalidateQueries({ queryKey: libraryKey(production) });
      notices.say(`${imported.clip.name} is in the library. ${imported.says.join(' ')}`);
      onClose();
    },
  });

  const rates = [...new Set([first.rate, '24', '25', '30', '60'])];

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        bringIn.mutate();
      }}
    >
      <Modal.Body>
        <div className="row g-4">
          <div className="col-6">
            <dl className="facts">
              <dt>Skeleton</dt>
              <dd>
                <span className="number">{report.joints}</span> joints,{' '}
                {report.known_figure ? `plays on ${report.known_figure}` : 'a new lay figure'}
              </dd>
              <dt>Motion</dt>
              <dd className="number">
                {report.frames} frames, {report.length_seconds.toFixed(2)} s
              </dd>
              <dt>Made at</dt>
              <dd className="number">{rateText(first.rate)}</dd>
              <dt>Channels</dt>
              <dd className="number">{report.channels}</dd>
              <dt>Height in the file</dt>
              <dd className="number">{report.height_in_file.toPrecision(4)} units</dd>
              <dt>Unit</dt>
              <dd>{unitText(report)}</dd>
            </dl>
            {report.cycle_length_frames !== null && cycle !== 'once' && (
              <p className="says mt-3">
                The last pose repeats the first: a cycle of {report.cycle_length_frames} frames.
              </p>
            )}
            {report.warnings.map((warning) => (
              <p key={warning} className="says is-warning mt-2">
                {warning}
              </p>
            ))}
          </div>
          <div className="col-6 d-flex flex-column gap-2">
            <div>
              <label className="form-label" htmlFor="clip-name">
                Name
              </label>
              <input
                id="clip-name"
                ref={nameField}
                className="form-control"
                value={name}
                maxLength={120}
                required
                onChange={(event) => setName(event.target.value)}
              />
            </div>
            <div className="field-line">
              <span>Frames of the file</span>
              <span className="pair">
                <NumberBox
                  label="First frame"
                  value={range.start}
                  smallest={0}
                  onCommit={(start) =>
                    setRange({ ...range, start: Math.min(start, range.end - 1) })
                  }
                />
                to
                <NumberBox
                  label="Last frame"
                  value={range.end - 1}
                  smallest={0}
                  onCommit={(last) =>
                    setRange({
                      ...range,
                      end: Math.max(range.start + 1, Math.min(first.frames, last + 1)),
                    })
                  }
                />
              </span>
            </div>
            <div className="field-line">
              <label htmlFor="clip-rate">Keep at</label>
              <select
                id="clip-rate"
                className="form-select w-auto"
                value={rate}
                onChange={(event) => setRate(event.target.value)}
              >
                {rates.map((option) => (
                  <option key={option} value={option}>
                    {rateText(option)}
                    {option === first.rate ? ', as made' : ''}
                  </option>
                ))}
              </select>
            </div>
            <div className="field-line">
              <span>Height</span>
              <NumberBox
                label="Height in metres"
                value={height}
                decimals={3}
                unit="m"
                smallest={0.001}
                onCommit={setHeight}
                disabled={first.height_in_file === 0}
              />
            </div>
            <div className="field-line">
              <span>Plays</span>
              <Choice
                label="Plays"
                value={cycle}
                onChange={setCycle}
                options={[
                  {
                    value: 'found',
                    text:
                      report.cycle_length_frames !== null ? 'As found: cycle' : 'As found: once',
                  },
                  { value: 'cycle', text: 'Cycle' },
                  { value: 'once', text: 'Once' },
                ]}
              />
            </div>
          </div>
        </div>
        {(bringIn.isError || ranged.isError) && (
          <p className="refusal mt-3" role="alert">
            {sentence(bringIn.error ?? ranged.error)}
          </p>
        )}
      </Modal.Body>
      <Modal.Footer>
        <button type="button" className="btn btn-paper" onClick={onClose}>
          Cancel
        </button>
        <button type="submit" className="btn btn-lamp" disabled={bringIn.isPending || !name.trim()}>
          Bring it in
        </button>
      </Modal.Footer>
    </form>
  );
}

function rateText(rate: string): string {
  const [top, bottom] = rate.split('/').map(Number);
  const value = bottom ? top / bottom : top;
  return `${Number(value.toFixed(3))} fps`;
}

function unitText(report: Report): string {
  const names: Record<string, string> = {
    m: 'metres',
    cm: 'centimetres',
    mm: 'millimetres',
    in: 'inches',
    ft: 'feet',
  };
  return names[report.unit] ? `looks like ${names[report.unit]}` : 'none known: scaled to a person';
}
