import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Schemas } from '../../api/client';
import { askReading, newLine } from '../../api/lines';
import { newId } from '../../api/newId';
import { FieldLine } from '../../app/controls';
import { watchJob } from './jobs/useJobs';
import { NewSheet, PickOne } from './NewSheet';
import { libraryKey } from './useLibrary';

interface SheetProps {
  readonly library: Schemas['LibraryView'];
  /** The sound that it is made of, where that was said. */
  readonly sound: string | null;
  readonly onClose: () => void;
}

const OURS = { id: '', name: 'Our ten mouths' };

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
  return (
    <NewSheet
      title="New line"
      makes={text.trim() ? 'Expose the line' : 'Make the line'}
      isReady={Boolean(chosen) && !make.isPending}
      problem={make.error}
      onMake={() => make.mutate()}
      onClose={onClose}
    >
      <PickOne
        name="Sound"
        value={chosen}
        onPick={setChosen}
        options={sounds.map((one) => ({
          id: one.id,
          name: `${one.name}, ${one.length_seconds.toFixed(1)} s`,
        }))}
      />
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
      <PickOne name="Mouths" value={chart} onPick={setChart} options={[OURS, ...charts]} />
    </NewSheet>
  );
}
