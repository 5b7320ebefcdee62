import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type DragEvent, type ReactNode, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { answered, api, type Schemas, sentence } from '../../api/client';
import { newCutOut } from '../../api/cutOuts';
import { DRAWING_ENDINGS, isDrawingFile, newRun, runSheetUrl } from '../../api/drawings';
import { lineSheetUrl } from '../../api/lines';
import { heardUrl, SOUND_ENDINGS } from '../../api/sounds';
import { IconButton, Tick } from '../../app/controls';
import { Name } from '../../app/Name';
import { NameField } from '../../app/NameField';
import { useNotices } from '../../app/notices';
import { useRemembered } from '../../app/remembered';
import { Shell } from '../../app/Shell';
import { WaveStrip } from '../../app/WaveStrip';
import { FigurePicture, Filmstrip, SceneStrip } from '../../stage/Filmstrip';
import { RecordSheet } from '../takes/record/RecordSheet';
import { BringDrawingsSheet } from './BringDrawingsSheet';
import { CardMenu, type Kept } from './CardMenu';
import { lengthOf, PencilMark, SeamStamp } from './ClipFacts';
import { CutOutCard, DrawingsCard, RunCard } from './DrawingsShelf';
import { filesIn } from './dropped';
import { ImportSheet } from './import/ImportSheet';
import { JobShelf } from './jobs/JobShelf';
import type { Job } from './jobs/useJobs';
import { ChartCard, LineCard } from './LineShelf';
import { MembersSheet } from './MembersSheet';
import { NewChartSheet } from './NewChartSheet';
import { NewClipSheet } from './NewClipSheet';
import { NewLineSheet } from './NewLineSheet';
import { inOrder, isFound, ORDERS, type Order } from './seeking';
import { RecipeCard, RunRecipe, TakeCard } from './TakeShelf';
import { libraryKey, useLibrary, useRecipes } from './useLibrary';

/** What is being brought in: files, or those that a job has read already. */
interface Coming {
  readonly files: readonly File[];
  readonly read: readonly Job[];
}

interface Look {
  readonly order: Order;
  readonly archive: boolean;
}

/** A production's scenes, clips, sounds and figures; files are dropped anywhere on it. */
export function LibraryRoom({ person }: { person: Schemas['Person'] }) {
  const { production } = useParams();
  const library = useLibrary(production);
  const recipes = useRecipes(production).data ?? [];
  const [coming, setComing] = useState<Coming | null>(null);
  const [drawn, setDrawn] = useState<readonly File[] | null>(null);
  const go = useNavigate();
  const notices = useNotices();
  const [dragging, setDragging] = useState(false);
  const [peopleShown, setPeopleShown] = useState(false);
  const [newClipShown, setNewClipShown] = useState(false);
  /** The sound that a line is made of; empty for any. */
  const [newChartShown, setNewChart] = useState(false);
  const [newLine, setNewLine] = useState<string | null>(null);
  const [isRecording, setRecording] = useState(false);
  const [sought, setSought] = useState('');
  const [look, setLook] = useRemembered<Look>('hours/library', { order: 'name', archive: false });
  const picker = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);

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
  const mayOwn = shelf.role === 'owner';
  const firstScene = shelf.scenes.find((scene) => !scene.archived);
  const firstLine = shelf.lines.find((line) => !line.archived);
  const firstRun = shelf.runs.find((run) => !run.archived);
  const firstTake = shelf.takes.find((take) => !take.archived);
  const seen = <T extends Kept & { created: string; changed: string }>(cards: readonly T[]): T[] =>
    inOrder(
      cards.filter((card) => card.archived === look.archive && isFound(card, sought)),
      look.order,
    );
  const tags = [
    ...new Set(
      [
        ...shelf.clips,
        ...shelf.scenes,
        ...shelf.takes,
        ...shelf.sounds,
        ...shelf.lines,
        ...shelf.charts,
        ...shelf.runs,
        ...shelf.drawings,
        ...shelf.cut_outs,
        ...shelf.figures,
      ].flatMap((card) => card.tags),
    ),
  ].sort();

  const drop = (event: DragEvent) => {
    event.preventDefault();
    setDragging(false);
    void filesIn(event.dataTransfer).then(comeIn);
  };
  /** Pictures become drawings; all else is looked at file by file. */
  const comeIn = (files: readonly File[]) => {
    if (!mayChange) return;
    const pictures = files.filter(isDrawingFile);
    const others = files.filter((file) => !isDrawingFile(file));
    if (pictures.length) setDrawn(pictures);
    if (others.length) setComing({ files: others, read: [] });
  };
  const makeRun = async (set: Schemas['DrawingsCard']) => {
    try {
      const made = await newRun(shelf.id, { drawings: set.id, name: set.name, like: null });
      void go(`/runs/${made.id}`);
    } catch (problem) {
      notices.trouble(problem);
    }
  };
  const cutOut = async (set: Schemas['DrawingsCard']) => {
    try {
      const made = await newCutOut(shelf.id, set.id);
      void go(`/cut-outs/${made.id}`);
    } catch (problem) {
      notices.trouble(problem);
    }
  };
  const menu = (
    card: Kept,
    out: {
      readonly fileUrl?: string;
      readonly gltfUrl?: string;
      readonly wordsUrl?: string;
      readonly sheetUrl?: string;
    } = {},
  ) => (mayChange ? <CardMenu production={shelf.id} card={card} {...out} /> : null);

  return (
    <Shell
      person={person}
      room="Library"
      crumbs={[{ text: shelf.name }]}
      libraryTo={`/productions/${shelf.id}`}
      voiceTo={firstLine ? `/lines/${firstLine.id}` : null}
      drawingsTo={firstRun ? `/runs/${firstRun.id}` : null}
      takeTo={firstTake ? `/takes/${firstTake.id}` : null}
      printsTo={`/productions/${shelf.id}/prints`}
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
          <Name as="h1" text={shelf.name} />
          <button type="button" className="btn btn-paper" onClick={() => setPeopleShown(true)}>
            <i className="bi bi-people" aria-hidden="true" /> People
          </button>
          <span className="quiet">you are {shelf.role}</span>
          <span className="grow" />
          {mayChange && (
            <>
              <input
                ref={picker}
                type="file"
                accept={`.bvh,.glb,.gltf,.json,.zip,.otio,.otioz,audio/*,${SOUND_ENDINGS},${DRAWING_ENDINGS}`}
                multiple
                hidden
                data-testid="motion-file"
                onChange={(event) => {
                  comeIn([...(event.target.files ?? [])]);
                  event.target.value = '';
                }}
              />
              <input
                ref={folder}
                type="file"
                hidden
                // A whole folder at once: what is in it is numbered by its names.
                {...{ webkitdirectory: '' }}
                data-testid="drawing-folder"
                onChange={(event) => {
                  const files = [...(event.target.files ?? [])].filter(isDrawingFile);
                  if (files.length) setDrawn(files);
                  event.target.value = '';
                }}
              />
              <NewSceneButton production={shelf.id} />
              {shelf.figures.length > 0 && (
                <button
                  type="button"
                  className="btn btn-paper"
                  onClick={() => setNewClipShown(true)}
                >
                  New clip
                </button>
              )}
              <button
                type="button"
                className="btn btn-lamp"
                title="Motion (BVH, glTF), sounds, pictures, or a scene or clip taken out as a file"
                onClick={() => picker.current?.click()}
              >
                Bring in files
              </button>
            </>
          )}
        </div>
        <div className="seek-line">
          <input
            type="search"
            className="form-control"
            aria-label="Find in the library"
            placeholder="Find by name, tag or figure"
            value={sought}
            onChange={(event) => setSought(event.target.value)}
          />
          <select
            className="form-select w-auto"
            aria-label="Order"
            value={look.order}
            onChange={(event) => setLook({ ...look, order: event.target.value as Order })}
          >
            {ORDERS.map((order) => (
              <option key={order.value} value={order.value}>
                {order.text}
              </option>
            ))}
          </select>
          <span className="tags">
            {tags.map((tag) => (
              <button
                key={tag}
                type="button"
                className="tag"
                aria-pressed={sought === tag}
                onClick={() => setSought(sought === tag ? '' : tag)}
              >
                <Name text={tag} />
              </button>
            ))}
          </span>
          <span className="grow" />
          <Tick
            label="The archive"
            hint="Show what has been put out of sight"
            checked={look.archive}
            onChange={(archive) => setLook({ ...look, archive })}
          />
        </div>
        <Unreadable documents={shelf.unreadable} />
        <JobShelf
          production={shelf.id}
          onBringIn={(read) => setComing({ files: [], read: [read] })}
        />
        <Shelf
          name="Scenes"
          cards={seen(shelf.scenes)}
          total={shelf.scenes.length}
          empty="No scene yet. A scene is where clips are laid, chained and retimed."
          show={(scene) => (
            <SceneCard
              scene={scene}
              menu={menu(scene, {
                fileUrl: `/api/scenes/${scene.id}/file`,
                sheetUrl: `/api/scenes/${scene.id}/sheet?form=pdf`,
              })}
            />
          )}
        />
        <Shelf
          name="Clips"
          cards={seen(shelf.clips)}
          total={shelf.clips.length}
          empty="Drop motion files (BVH) here: each becomes a clip, on a lay figure or on one of yours."
          show={(clip) => (
            <ClipCard
              clip={clip}
              menu={menu(clip, {
                fileUrl: `/api/clips/${clip.id}/file`,
                gltfUrl: `/api/clips/${clip.id}/gltf`,
              })}
            />
          )}
        />
        <Shelf
          name="Takes"
          cards={seen(shelf.takes)}
          total={shelf.takes.length}
          empty="Captured motion is brought in as a take: kept as it came, with the recipe that cleans it."
          show={(take) => (
            <TakeCard take={take} tags={<Tags tags={take.tags} />} menu={menu(take)} />
          )}
        />
        {mayChange && (
          <p className="takes-hands">
            <button type="button" className="btn btn-paper" onClick={() => setRecording(true)}>
              Record from the stage …
            </button>
            {shelf.takes.length > 1 && (
              <RunRecipe production={shelf.id} takes={seen(shelf.takes)} />
            )}
          </p>
        )}
        {recipes.length > 0 && (
          <Shelf
            name="Recipes"
            cards={seen(recipes)}
            total={recipes.length}
            empty=""
            show={(recipe) => <RecipeCard recipe={recipe} menu={menu(recipe)} />}
          />
        )}
        <Shelf
          name="Sounds"
          cards={seen(shelf.sounds)}
          total={shelf.sounds.length}
          empty="Drop sounds here: WAV, AIFF, FLAC, OGG, MP3 or M4A, whatever their names."
          show={(sound) => (
            <SoundCard
              sound={sound}
              menu={menu(sound)}
              onLine={mayChange ? () => setNewLine(sound.id) : null}
            />
          )}
        />
        <Shelf
          name="Lines"
          cards={seen(shelf.lines)}
          total={shelf.lines.length}
          empty="A spoken sound with its text becomes a line, and a line becomes mouths."
          show={(line) => (
            <LineCard
              line={line}
              tags={<Tags tags={line.tags} />}
              menu={menu(line, {
                sheetUrl: lineSheetUrl(line.id, 'pdf'),
                ...(line.is_read && { wordsUrl: `/api/lines/${line.id}/words` }),
              })}
            />
          )}
        />
        {mayChange && shelf.sounds.length > 0 && (
          <p className="takes-hands">
            <button type="button" className="btn btn-paper" onClick={() => setNewLine('')}>
              New line …
            </button>
          </p>
        )}
        <Shelf
          name="Mouth charts"
          cards={seen(shelf.charts)}
          total={shelf.charts.length}
          empty="Without a chart of the figure’s own, lines show our ten mouths."
          show={(chart) => (
            <ChartCard chart={chart} tags={<Tags tags={chart.tags} />} menu={menu(chart)} />
          )}
        />
        {mayChange && (
          <p className="takes-hands">
            <button type="button" className="btn btn-paper" onClick={() => setNewChart(true)}>
              New chart …
            </button>
          </p>
        )}
        <Shelf
          name="Runs of drawings"
          cards={seen(shelf.runs)}
          total={shelf.runs.length}
          empty="A run is drawings in order with their exposures: looped, held, boiled, like any clip."
          show={(run) => (
            <RunCard
              production={shelf.id}
              run={run}
              tags={<Tags tags={run.tags} />}
              menu={menu(run, { sheetUrl: runSheetUrl(run.id, 'pdf') })}
            />
          )}
        />
        <Shelf
          name="Drawing sets"
          cards={seen(shelf.drawings)}
          total={shelf.drawings.length}
          empty="Drop numbered pictures here, a folder or a zip of them, an animation or a movie."
          show={(set) => (
            <DrawingsCard
              production={shelf.id}
              drawings={set}
              onRun={mayChange ? () => void makeRun(set) : null}
              onCutOut={mayChange ? () => void cutOut(set) : null}
              tags={<Tags tags={set.tags} />}
              menu={menu(set)}
            />
          )}
        />
        {mayChange && (
          <p className="takes-hands">
            <button type="button" className="btn btn-paper" onClick={() => folder.current?.click()}>
              A folder of drawings …
            </button>
          </p>
        )}
        <Shelf
          name="Cut-outs"
          cards={seen(shelf.cut_outs)}
          total={shelf.cut_outs.length}
          empty="A figure of paper is cut out of a layered drawing set, one picture each part."
          show={(card) => (
            <CutOutCard cutOut={card} tags={<Tags tags={card.tags} />} menu={menu(card)} />
          )}
        />
        <Shelf
          name="Figures"
          cards={seen(shelf.figures)}
          total={shelf.figures.length}
          empty="Figures come with the motion that is brought in."
          show={(figure) => <FigureCard figure={figure} menu={menu(figure)} />}
        />
        {isRecording && (
          <RecordSheet
            production={shelf.id}
            onto={mostPlayed(shelf.clips)}
            onClose={() => setRecording(false)}
          />
        )}
        {newLine !== null && (
          <NewLineSheet library={shelf} sound={newLine || null} onClose={() => setNewLine(null)} />
        )}
        {newChartShown && (
          <NewChartSheet
            library={shelf}
            like=""
            onClose={() => setNewChart(false)}
            onMade={() => setNewChart(false)}
          />
        )}
        {newClipShown && <NewClipSheet library={shelf} onClose={() => setNewClipShown(false)} />}
        {mayOwn && <ProductionName id={shelf.id} name={shelf.name} />}
        {dragging && mayChange && (
          <div className="drop-veil">
            Let go to bring these in: motion (BVH), sounds, pictures, scenes and clips of ours
          </div>
        )}
      </div>
      {coming && <ImportSheet production={shelf.id} {...coming} onClose={() => setComing(null)} />}
      {drawn && (
        <BringDrawingsSheet
          production={shelf.id}
          files={drawn}
          onClose={() => setDrawn(null)}
          onIn={(job) => {
            if (job.run) void go(`/runs/${job.run}`);
          }}
        />
      )}
      {peopleShown && (
        <MembersSheet
          production={shelf.id}
          name={shelf.name}
          mayOwn={mayOwn}
          onClose={() => setPeopleShown(false)}
        />
      )}
    </Shell>
  );
}

/** The figure that most clips are of: whom a take is likely for. */
function mostPlayed(clips: readonly Schemas['ClipCard'][]): string | null {
  const counts = new Map<string, number>();
  for (const { figure } of clips) counts.set(figure, 1 + (counts.get(figure) ?? 0));
  const [first] = [...counts].sort(([, a], [, b]) => b - a);
  return first?.[0] ?? null;
}

interface ShelfProps<T> {
  readonly name: string;
  readonly cards: readonly T[];
  /** How many there are, whatever is sought. */
  readonly total: number;
  readonly empty: string;
  readonly show: (card: T) => ReactNode;
}

function Shelf<T extends { readonly id: string }>(props: ShelfProps<T>) {
  const { name, cards, total, empty, show } = props;
  return (
    <section className="shelf" aria-label={name}>
      <header>
        <h2>{name}</h2>
        <span className="quiet number">
          {cards.length === total ? total : `${cards.length} of ${total}`}
        </span>
      </header>
      {total === 0 && <p className="empty">{empty}</p>}
      <ul className="cards">
        {cards.map((card) => (
          <li key={card.id}>{show(card)}</li>
        ))}
      </ul>
    </section>
  );
}

/** What stands in the library and cannot be opened: it is not passed over in silence. */
function Unreadable({ documents }: { documents: readonly Schemas['Unreadable'][] }) {
  if (!documents.length) return null;
  return (
    <section className="unreadable" aria-label="What cannot be opened">
      {documents.map(({ id, kind, name, why }) => (
        <p key={id} className="refusal">
          The {kind} “{name}” cannot be opened. {why}
        </p>
      ))}
    </section>
  );
}

function Tags({ tags }: { tags: readonly string[] }) {
  if (!tags.length) return null;
  return <Name className="quiet" text={tags.join(' · ')} />;
}

function SceneCard({ scene, menu }: { scene: Schemas['SceneCard']; menu: ReactNode }) {
  return (
    <div className="slip">
      <Link className="slip-link" to={`/scenes/${scene.id}`}>
        <span className="line">
          <Name className="name" text={scene.name} />
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
            changed={scene.changed}
            label={`${scene.name}, six moments`}
          />
        )}
        <span className="whose quiet">
          <Name text={scene.figures.map((figure) => figure.name).join(', ') || 'empty'} />
          <span>, {scene.rate} fps</span>
        </span>
        <Tags tags={scene.tags} />
      </Link>
      {menu}
    </div>
  );
}

function ClipCard({ clip, menu }: { clip: Schemas['ClipCard']; menu: ReactNode }) {
  const { used_in, rests } = clip;
  return (
    <div className="slip">
      <span className="line">
        <PencilMark colour={clip.colour} />
        <Link className="name" to={`/clips/${clip.id}`} title={`${clip.name}, on the bench`}>
          {clip.name}
        </Link>
        <span className="length number">{lengthOf(clip)}</span>
      </span>
      <Filmstrip
        clip={clip.id}
        figure={clip.figure}
        changed={clip.changed}
        label={`${clip.name}, five poses`}
        seconds={clip.length_seconds}
      />
      <span className="line mt-2">
        <SeamStamp clip={clip} />
        <span className="whose quiet">
          <Name text={clip.figure_name} />
          <span>
            , {clip.rate} fps
            {clip.stride_metres > 0.05 && `, ${clip.stride_metres.toFixed(2)} m a round`}
          </span>
        </span>
      </span>
      <Name
        className="quiet"
        text={
          used_in.length ? `in ${used_in.map((use) => use.name).join(', ')}` : 'in no scene yet'
        }
      />
      {rests.length > 0 && <span className="quiet">{rests.length} joints rest</span>}
      <Tags tags={clip.tags} />
      {menu}
    </div>
  );
}

const CHANNELS: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo' };

interface SoundProps {
  readonly sound: Schemas['SoundCard'];
  readonly menu: ReactNode;
  readonly onLine: (() => void) | null;
}

function SoundCard({ sound, menu, onLine }: SoundProps) {
  const { id, name, length_seconds: seconds, form, rate_hz, channels, used_in, tags } = sound;
  const [isOpen, setIsOpen] = useState(false);
  return (
    <div className="slip">
      <span className="line">
        <Name className="name" text={name} />
        <span className="length number">{seconds.toFixed(2)} s</span>
      </span>
      <WaveStrip sound={id} seconds={seconds} label={`${name}, as it swings`} />
      {isOpen ? (
        // biome-ignore lint/a11y/useMediaCaption: sounds of a library have no words written down yet
        <audio className="hear" src={heardUrl(id)} controls autoPlay />
      ) : (
        <button
          type="button"
          className="btn btn-paper hear"
          aria-label={`Hear ${name}`}
          onClick={() => setIsOpen(true)}
        >
          <i className="bi bi-play-fill" aria-hidden="true" /> Hear it
        </button>
      )}
      {onLine && (
        <button
          type="button"
          className="btn btn-quiet"
          aria-label={`Make a line of ${name}`}
          onClick={onLine}
        >
          Make a line of it …
        </button>
      )}
      <span className="quiet">
        {form}, {rate_hz / 1000} kHz, {CHANNELS[channels] ?? `${channels} channels, heard as one`}
      </span>
      <Name
        className="quiet"
        text={
          used_in.length ? `in ${used_in.map((use) => use.name).join(', ')}` : 'in no scene yet'
        }
      />
      <Tags tags={tags} />
      {menu}
    </div>
  );
}

function FigureCard({ figure, menu }: { figure: Schemas['FigureCard']; menu: ReactNode }) {
  return (
    <div className="slip">
      <FigurePicture figure={figure.id} label={`${figure.name} at rest`} />
      <span className="line">
        <Name className="name" text={figure.name} />
        <span className="length number">
          {figure.joints} joints, {figure.height_metres.toFixed(2)} m
        </span>
      </span>
      <Tags tags={figure.tags} />
      {menu}
    </div>
  );
}

function ProductionName({ id, name }: { id: string; name: string }) {
  const queries = useQueryClient();
  const notices = useNotices();
  const [shown, setShown] = useState(false);
  const rename = useMutation({
    mutationFn: (wanted: string) =>
      api.PATCH('/api/productions/{production_id}', {
        params: { path: { production_id: id } },
        body: { name: wanted },
      }),
    onSuccess: async () => {
      setShown(false);
      await queries.invalidateQueries({ queryKey: libraryKey(id) });
      await queries.invalidateQueries({ queryKey: ['productions'] });
    },
    onError: (problem) => notices.trouble(problem),
  });
  return (
    <footer className="library-foot">
      {shown ? (
        <NameField
          label="The production’s name"
          value={name}
          onCommit={(wanted) => rename.mutate(wanted)}
        />
      ) : (
        <>
          <Name className="quiet" text={name} />
          <IconButton icon="pencil" label="Rename the production" onClick={() => setShown(true)} />
        </>
      )}
    </footer>
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
