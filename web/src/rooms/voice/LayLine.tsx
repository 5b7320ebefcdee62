import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { newId } from '../../api/newId';
import { readHead, sendEdit } from '../../api/scenes';
import { NumberBox } from '../../app/controls';
import { useNotices } from '../../app/notices';
import { libraryKey, useLibrary } from '../library/useLibrary';
import type { VoiceRoomParts } from './room';

/** The line into a scene: its sound, and on the figure its mouths, in step. */
export function LayLine({ room }: { readonly room: VoiceRoomParts }) {
  const { line, sheet, chart, otherSides, eyesChart } = room;
  const notices = useNotices();
  const queries = useQueryClient();
  const library = useLibrary(line.production);
  const scenes = (library.data?.scenes ?? []).filter((scene) => !scene.archived);
  const [wanted, setWanted] = useState('');
  const [frame, setFrame] = useState(1);
  const [laidIn, setLaidIn] = useState<string | null>(null);
  const whose = chart?.chart.figure ?? '';
  const fits = scenes.filter((scene) => scene.figures.some((one) => one.figure === whose));
  const scene = scenes.find(({ id }) => id === wanted) ?? fits[0] ?? scenes[0];
  const member = scene?.figures.find((one) => one.figure === whose);
  const lay = useMutation({
    mutationFn: async () => {
      const head = await readHead(scene.id);
      const edit = {
        kind: 'lay_line',
        line: line.id,
        sound: sheet.sound,
        laid: newId(),
        sound_lane: newId(),
        start: frame - 1,
        figure: member?.id ?? null,
        part: 'mouth',
        chart: chart?.id ?? null,
        other_sides: otherSides.map(({ id }) => id),
        eyes_chart: eyesChart?.id ?? null,
        stint: newId(),
      } as const;
      return sendEdit(scene.id, edit, head.revision, newId());
    },
    onSuccess: async (done) => {
      setLaidIn(scene.id);
      notices.say([`${line.name} is laid in ${scene.name}.`, ...done.notes].join(' '));
      await queries.invalidateQueries({ queryKey: libraryKey(line.production) });
      await queries.invalidateQueries({ queryKey: ['scene', scene.id] });
    },
    onError: (problem) => notices.trouble(problem),
  });
  if (!scene) return <p className="quiet">There is no scene yet to lay it in.</p>;
  return (
    <div className="lay-line">
      <span className="line">
        <select
          className="form-select"
          aria-label="The scene to lay it in"
          value={scene.id}
          onChange={({ target }) => {
            setWanted(target.value);
            setLaidIn(null);
          }}
        >
          {scenes.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        from
        <NumberBox
          label="The scene frame it begins on"
          value={frame}
          smallest={1}
          onCommit={setFrame}
        />
      </span>
      {laidIn === scene.id ? (
        <Link className="btn btn-lamp" to={`/scenes/${scene.id}`}>
          To the scene
        </Link>
      ) : (
        <button
          type="button"
          className="btn btn-lamp"
          disabled={lay.isPending}
          onClick={() => lay.mutate()}
        >
          {member ? `Lay it on ${member.name}` : 'Lay its sound'}
        </button>
      )}
    </div>
  );
}
