import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useId, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { type Schemas, sentence } from '../../api/client';
import { askReading, newLine } from '../../api/lines';
import { newId } from '../../api/newId';
import { FieldLine } from '../../app/controls';
import { watchJob } from './jobs/useJobs';
import { libraryKey } from './useLibrary';

interface SheetProps {
  readonly library: Schemas['LibraryView'];
  /** The sound that it is made of, where that was said. */
  readonly sound: string | null;
  readonly onClose: () => void;
}

/** A sound and what is said in it become a line, which is read at once. */
export function NewLineSheet({ library, sound, onClose }: SheetProps) {
  const id = useId();
  const go = useNavigate();
  const queries = useQueryClient();
  const sounds = library.sounds.filter((one) => !one.archived);
  const charts = library.charts.filter((one) => !one.archived && one.part === 'mouth');
  const [chosen, setChosen] = useState(sound ?? sounds[0]?.id ?? '');
  const [text, setText] = useState('');
  const [speaker, setSpeaker] = useState('');
  const [chart, setChart] = useState(charts.find((one) => one.view === 'front')?.id ?? '');
  const make = useMutation({
    mutationFn: async () => {
      const line = await newLine(library.id, {
        sound: chosen,
        text,
        speaker,
        chart: chart || null,
        rate: '24',
      });
      await queries.invalidateQueries({ queryKey: libraryKey(library.id) });
      if (text.trim()) {
        const job = await askReading(line.id, { rough: false, again_at: null, token: newId() });
        watchJob(queries, library.id, job);
      }
      return line;
    },
    onSuccess: (line) => go(`/lines/${line.id}`),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <Modal show onHide={onClose} aria-labelledby={`${id}-title`}>
      <form onSubmit={submit}>
        <Modal.Header closeButton>
          <Modal.Title id={`${id}-title`}>New line</Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-flex flex-column gap-3">
          <FieldLine name="Sound">
            <select
              className="form-select w-auto"
              aria-label="Sound"
              value={chosen}
              onChange={(event) => setChosen(event.target.value)}
            >
              {sounds.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}, {one.length_seconds.toFixed(1)} s
                </option>
              ))}
            </select>
          </FieldLine>
          <div>
            <label className="form-label" htmlFor={`${id}-text`}>
              What is said
            </label>
            <textarea
              id={`${id}-text`}
              className="form-control"
              rows={4}
              placeholder="Paste the text. Without one its mouths come from the sound alone, or by hand."
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          </div>
          <FieldLine name="Who says it">
            <input
              className="form-control w-auto"
              aria-label="Who says it"
              value={speaker}
              maxLength={120}
              onChange={(event) => setSpeaker(event.target.value)}
            />
          </FieldLine>
          <FieldLine name="Mouths">
            <select
              className="form-select w-auto"
              aria-label="Mouths"
              value={chart}
              onChange={(event) => setChart(event.target.value)}
            >
              <option value="">Our ten mouths</option>
              {charts.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          </FieldLine>
          {make.isError && (
            <p className="refusal" role="alert">
              {sentence(make.error)}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp" disabled={!chosen || make.isPending}>
            {text.trim() ? 'Expose the line' : 'Make the line'}
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
