import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useId, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Schemas } from '../../api/client';
import { newClip } from '../../api/clips';
import { Choice, FieldLine, NumberBox, Tick } from '../../app/controls';
import { NewSheet, PickOne } from './NewSheet';
import { libraryKey } from './useLibrary';

interface NewClipProps {
  readonly library: Schemas['LibraryView'];
  readonly onClose: () => void;
}

type Source = Schemas['NewClip']['source'];

const SOURCES: readonly { readonly value: Source; readonly text: string; readonly hint: string }[] =
  [
    { value: 'blank', text: 'blank', hint: 'The figure rests; its root has one key' },
    { value: 'rest', text: 'rest pose', hint: 'Every joint keyed in its rest' },
    { value: 'pose', text: 'a pose', hint: 'One frame of another clip' },
    { value: 'range', text: 'a range', hint: 'Frames of another clip, baked exactly' },
    { value: 'scene', text: 'a scene', hint: 'Frames of a scene, baked exactly' },
  ];

/** A new clip for the bench: from blank paper, a pose, a range of a clip, or of a scene. */
export function NewClipSheet({ library, onClose }: NewClipProps) {
  const id = useId();
  const queries = useQueryClient();
  const go = useNavigate();
  const figures = library.figures.filter((figure) => !figure.archived);
  const clips = library.clips.filter((clip) => !clip.archived);
  const scenes = library.scenes.filter((scene) => scene.figures.length);
  const [name, setName] = useState('New clip');
  const [source, setSource] = useState<Source>('blank');
  const [figure, setFigure] = useState(figures[0]?.id ?? '');
  const [clip, setClip] = useState(clips[0]?.id ?? '');
  const [scene, setScene] = useState(scenes[0]?.id ?? '');
  const [member, setMember] = useState('');
  const [start, setStart] = useState(0);
  const [end, setEnd] = useState(24);
  const [length, setLength] = useState(24);
  const [rate, setRate] = useState(24);
  const [isCycle, setCycle] = useState(true);
  const chosenScene = scenes.find((other) => other.id === scene);
  const members = chosenScene?.figures ?? [];
  const fromClip = source === 'pose' || source === 'range';
  const ranged = source === 'range' || source === 'scene';
  const of = fromClip ? clip : source === 'scene' ? scene : figure;

  const make = useMutation({
    mutationFn: () =>
      newClip(library.id, {
        name,
        source,
        of: of || null,
        scene_figure: source === 'scene' ? member || members[0]?.id || null : null,
        // Scenes count their frames from 1.
        start: source === 'scene' ? Math.max(0, start - 1) : start,
        end: ranged ? end : null,
        rate: String(rate),
        length_frames: length,
        is_cycle: isCycle,
        colour: 'cobalt',
      }),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: libraryKey(library.id) });
      go(`/clips/${made.id}`);
    },
  });
  return (
    <NewSheet
      title="New clip"
      makes="Make it"
      isReady={!make.isPending && Boolean(of)}
      problem={make.error}
      onMake={() => make.mutate()}
      onClose={onClose}
    >
      <label className="form-label" htmlFor={`${id}-name`}>
        Name
      </label>
      <input
        id={`${id}-name`}
        className="form-control"
        value={name}
        maxLength={120}
        required
        // biome-ignore lint/a11y/noAutofocus: the dialog was opened to write this
        autoFocus
        onFocus={(event) => event.target.select()}
        onChange={(event) => setName(event.target.value)}
      />
      <FieldLine name="From">
        <Choice<Source> label="From" value={source} onChange={setSource} options={SOURCES} />
      </FieldLine>
      {(source === 'blank' || source === 'rest') && (
        <PickOne name="Figure" value={figure} onPick={setFigure} options={figures} />
      )}
      {fromClip && <PickOne name="Clip" value={clip} onPick={setClip} options={clips} />}
      {source === 'scene' && (
        <>
          <PickOne name="Scene" value={scene} onPick={setScene} options={scenes} />
          <PickOne
            name="Figure of the scene"
            value={member || members[0]?.id || ''}
            onPick={setMember}
            options={members}
          />
        </>
      )}
      {source === 'pose' && (
        <FieldLine name="Its frame">
          <NumberBox label="Frame of the pose" value={start} smallest={0} onCommit={setStart} />
        </FieldLine>
      )}
      {ranged && (
        <FieldLine name={source === 'scene' ? 'Its frames' : 'Its frames, the last left out'}>
          <span className="pair">
            <NumberBox
              label="First frame"
              value={start}
              smallest={source === 'scene' ? 1 : 0}
              onCommit={setStart}
            />
            to
            <NumberBox label="Last frame" value={end} smallest={1} onCommit={setEnd} />
          </span>
        </FieldLine>
      )}
      {!ranged && (
        <>
          <FieldLine name="Length">
            <NumberBox
              label="Length in frames"
              value={length}
              smallest={1}
              unit="fr"
              onCommit={(value) => setLength(Math.round(value))}
            />
          </FieldLine>
          {source !== 'pose' && (
            <FieldLine name="Rate">
              <NumberBox
                label="Frames a second"
                value={rate}
                decimals={3}
                smallest={1}
                unit="fps"
                onCommit={setRate}
              />
            </FieldLine>
          )}
          <Tick label="A cycle: the end meets the start" checked={isCycle} onChange={setCycle} />
        </>
      )}
    </NewSheet>
  );
}
