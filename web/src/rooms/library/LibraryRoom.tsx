import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type DragEvent, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { answered, api, type Schemas, sentence } from '../../api/client';
import { useNotices } from '../../app/notices';
import { Shell } from '../../app/Shell';
import { FigurePicture, Filmstrip, SceneStrip } from '../../stage/Filmstrip';
import { lengthOf, PencilMark, SeamStamp } from './ClipFacts';
import { ImportSheet } from './ImportSheet';
import { libraryKey, useLibrary } from './useLibrary';

/** A production's scenes, clips and figures; motion files are dropped anywhere on it. */
export function LibraryRoom({ person }: { person: Schemas['Person'] }) {
  const { production } = useParams();
  const library = useLibrary(production);
  const [file, setFile] = useState<File | null>(null);
  const [dragging, setDragging] = useState(false);
  const picker = useRef<HTMLInputElement>(null);

  if (library.isPending) return null;
  if (library.isError) {
    return (
      <Shell
        person={person}
        room="Library"
        crumbs={[{ text: 'Library' }]}
        libraryTo="/"
        sceneTo={null}
      >
        <p className="refusal p-4">{sentence(library.error)}</p>
      </Shell>
    );
  }
  const shelf = library.data;
  const mayChange = shelf.role !== 'viewer';
  const firstScene = shelf.scenes[0];

  const drop = (event: DragEvent) => {
    event.preventDefault();
    setDragging(false);
    const dropped = event.dataTransfer.files[0];
    if (dropped && mayChange) setFile(dropped);
  };

  return (
    <Shell
      person={person}
      room="Library"
      crumbs={[{ text: shelf.name }]}
      libraryTo={`/productions/${shelf.id}`}
      sceneTo={firstScene ? `/scenes/${firstScene.id}` : null}
    >
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping files has a button beside it */}
      <div
        className="library"
        onDragOver={(event) => {
          event.preventDefault();
          setDragging(true);
        }}
        onDragLeave={(event) => {
          if (event.currentTarget === event.target) setDragging(false);
        }}
        onDrop={drop}
      >
        <div className="library-head">
          <h1>{shelf.name}</h1>
          <span className="quiet">{shelf.role}</span>
          <span className="grow" />
          {mayChange && (
            <>
              <input
                ref={picker}
                type="file"
                accept=".bvh"
                hidden
                data-testid="motion-file"
                onChange={(event) => {
                  setFile(event.target.files?.[0] ?? null);
                  event.target.value = '';
                }}
              />
              <NewSceneButton production={shelf.id} />
              <button
                type="button"
                className="btn btn-lamp"
                onClick={() => picker.current?.click()}
              >
                Bring in motion
              </button>
            </>
          )}
        </div>
        <Scenes scenes={shelf.scenes} />
        <Clips clips={shelf.clips} />
        <Figures figures={shelf.figures} />
        {dragging && mayChange && (
          <div className="drop-veil">Let go to bring this motion file in (BVH)</div>
        )}
      </div>
      {file && <ImportSheet production={shelf.id} file={file} onClose={() => setFile(null)} />}
    </Shell>
  );
}

function Scenes({ scenes }: { scenes: readonly Schemas['SceneCard'][] }) {
  return (
    <section className="shelf" aria-label="Scenes">
      <header>
        <h2>Scenes</h2>
        <span className="quiet number">{scenes.length}</span>
      </header>
      <ul className="cards">
        {scenes.map((scene) => (
          <li key={scene.id}>
            <Link className="slip" to={`/scenes/${scene.id}`}>
              <span className="line">
                <span className="name">{scene.name}</span>
                <span className="length number">
                  {scene.length_frames} fr, {scene.length_seconds.toFixed(2)} s
                </span>
              </span>
              {scene.figures[0] && (
                <SceneStrip
                  scene={scene.id}
                  figure={scene.figures[0].figure}
                  member={scene.figures[0].id}
                  length={scene.length_frames}
                  label={`${scene.name}, six moments`}
                />
              )}
              <span className="line mt-1">
                <span className="quiet">
                  {scene.figures.map((figure) => figure.name).join(', ') || 'empty'}, {scene.rate}{' '}
                  fps
                </span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Clips({ clips }: { clips: readonly Schemas['ClipCard'][] }) {
  return (
    <section className="shelf" aria-label="Clips">
      <header>
        <h2>Clips</h2>
        <span className="quiet number">{clips.length}</span>
      </header>
      {clips.length === 0 && (
        <p className="empty">Drop a motion file (BVH) here: it becomes a clip and a lay figure.</p>
      )}
      <ul className="cards">
        {clips.map((clip) => (
          <li key={clip.id} className="slip">
            <span className="line">
              <PencilMark colour={clip.colour} />
              <span className="name">{clip.name}</span>
              <span className="length number">{lengthOf(clip)}</span>
            </span>
            <Filmstrip clip={clip.id} figure={clip.figure} label={`${clip.name}, five poses`} />
            <span className="line mt-2">
              <SeamStamp clip={clip} />
              <span className="quiet">
                {clip.figure_name}, {clip.rate} fps
                {clip.stride_metres > 0.05 && `, ${clip.stride_metres.toFixed(2)} m a round`}
              </span>
            </span>
            <span className="quiet">
              {clip.used_in.length ? `in ${clip.used_in.join(', ')}` : 'in no scene yet'}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Figures({ figures }: { figures: readonly Schemas['FigureCard'][] }) {
  return (
    <section className="shelf" aria-label="Figures">
      <header>
        <h2>Figures</h2>
        <span className="quiet number">{figures.length}</span>
      </header>
      <ul className="cards">
        {figures.map((figure) => (
          <li key={figure.id} className="slip">
            <FigurePicture figure={figure.id} label={`${figure.name} at rest`} />
            <span className="line">
              <span className="name">{figure.name}</span>
              <span className="length number">
                {figure.joints} joints, {figure.height_metres.toFixed(2)} m
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function NewSceneButton({ production }: { production: string }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const notices = useNotices();
  const make = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/productions/{production_id}/scenes', {
          params: { path: { production_id: production } },
          body: { name: 'New scene', rate: '24', length_frames: 120 },
        }),
      ),
    onSuccess: async (scene) => {
      await queries.invalidateQueries({ queryKey: libraryKey(production) });
      void navigate(`/scenes/${scene.id}`);
    },
    onError: (problem) => notices.trouble(problem),
  });
  return (
    <button
      type="button"
      className="btn btn-paper"
      disabled={make.isPending}
      onClick={() => make.mutate()}
    >
      New scene
    </button>
  );
}
