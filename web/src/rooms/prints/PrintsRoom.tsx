import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { type Schemas, sentence } from '../../api/client';
import { nightListKey, nightListQuery, type PrintRow } from '../../api/nightList';
import { filmToKeep, type PrintCard, printsQuery, throwAway } from '../../api/prints';
import { IconButton } from '../../app/controls';
import { counted } from '../../app/counted';
import { useNotices } from '../../app/notices';
import { Shell } from '../../app/Shell';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { useShortcuts } from '../../app/shortcuts';
import { useJobHand, useJobs } from '../library/jobs/useJobs';
import { useLibrary } from '../library/useLibrary';
import { DryingLine } from './DryingLine';
import { FilmTable } from './FilmTable';
import { NightList } from './NightList';
import { OldPrints } from './OldPrints';
import { PrintFacts } from './PrintFacts';
import { PRINTS_KEYS, withPrintsKey } from './printsKeys';
import { frameShown, isFilm, megabytes, picturesIn } from './said';
import { type Film, useFilm } from './useFilm';

/** What was printed: on a line, played picture by picture, and compared. */
export function PrintsRoom({ person }: { person: Schemas['Person'] }) {
  const { production = '' } = useParams();
  const library = useLibrary(production);
  const prints = useQuery(printsQuery(production));
  const problem = library.error ?? prints.error;
  const name = library.data?.name;
  const firstScene = library.data?.scenes.find((scene) => !scene.archived);
  return (
    <Shell
      person={person}
      room="Prints"
      crumbs={[
        ...(name ? [{ text: name, to: `/productions/${production}` }] : []),
        { text: 'Prints' },
      ]}
      libraryTo={`/productions/${production}`}
      sceneTo={firstScene ? `/scenes/${firstScene.id}` : null}
      printsTo={`/productions/${production}/prints`}
    >
      {problem ? <p className="refusal p-4">{sentence(problem)}</p> : null}
      {prints.data && library.data && (
        <Prints
          production={production}
          prints={prints.data}
          mayChange={library.data.role !== 'viewer'}
        />
      )}
    </Shell>
  );
}

interface PrintsProps {
  readonly production: string;
  readonly prints: readonly PrintCard[];
  readonly mayChange: boolean;
}

function Prints({ production, prints, mayChange }: PrintsProps) {
  const queries = useQueryClient();
  const notices = useNotices();
  const hand = useJobHand(production);
  const night = useNightList(production);
  usePutAway(production, hand.putAway);
  const [wanted, setWanted] = useState<string | null>(null);
  const [laid, setLaid] = useState<string | null>(null);
  const [pane, setPane] = useState(50);
  const [keysShown, setKeysShown] = useState(false);
  const place = Math.max(
    0,
    prints.findIndex(({ id }) => id === wanted),
  );
  const print = prints[place] ?? null;
  const films = prints.filter(isFilm);
  const onFilm = print && isFilm(print) ? print : null;
  const under = (onFilm && films.find(({ id }) => id === laid && id !== onFilm.id)) ?? null;
  const film = useFilm(onFilm);
  // What goes is gone: the first press only asks.
  const [goes, setGoes] = useState<string | null>(null);
  const isGoing = goes !== null && goes === print?.id;
  const throwIt = () => {
    if (!print || !mayChange) return;
    if (!isGoing) {
      setGoes(print.id);
      return;
    }
    setWanted((prints[place + 1] ?? prints[place - 1])?.id ?? null);
    throwAway(print.id).then(
      () => queries.invalidateQueries(printsQuery(production)),
      notices.trouble,
    );
  };
  const lay = () =>
    setLaid(under || !onFilm ? null : (olderLike(films, films.indexOf(onFilm))?.id ?? null));
  useShortcuts(PRINTS_KEYS, {
    play: film.play,
    back: () => film.step(-1),
    forward: () => film.step(1),
    first: () => film.goTo(0),
    last: () => film.goTo(onFilm ? picturesIn(onFilm) - 1 : 0),
    newer: () => setWanted(prints[Math.max(0, place - 1)]?.id ?? null),
    older: () => setWanted(prints[Math.min(prints.length - 1, place + 1)]?.id ?? null),
    lay,
    throwAway: throwIt,
    keys: () => setKeysShown(true),
  });
  const space = prints.reduce((sum, { size_bytes }) => sum + size_bytes, 0);
  return (
    <div className="prints">
      <header className="sheet-head">
        <h2>On the line</h2>
        <span className="quiet">
          {counted(prints.length, 'print')}, newest first; {megabytes(space)} in all
        </span>
        <span className="grow" />
        {mayChange && prints.length > 0 && <OldPrints production={production} prints={prints} />}
        <IconButton
          icon="keyboard"
          label={withPrintsKey('Keys of this room', 'keys')}
          onClick={() => setKeysShown(true)}
        />
      </header>
      <DryingLine
        prints={prints}
        wet={night.rows.filter(({ state }) => state === 'running')}
        chosen={print?.id ?? null}
        under={under?.id ?? null}
        onChoose={setWanted}
      />
      {print ? (
        <>
          <div className="opened">
            <PrintFacts title="Under the pane" print={under}>
              <UnderChoice films={films} print={print} under={under} onLay={setLaid} />
            </PrintFacts>
            <FilmTable film={film} print={print} under={under} pane={pane} onPane={setPane} />
            <PrintFacts title={under ? 'On the pane' : 'On the table'} print={print}>
              <a className="btn btn-paper" href={filmToKeep(print.id)} download>
                Download
              </a>
              {mayChange && (
                <button
                  type="button"
                  className={`btn ${isGoing ? 'btn-lamp' : 'btn-quiet'}`}
                  title={withPrintsKey(
                    isGoing ? 'Press again: it cannot be undone' : 'Throw it away',
                    'throwAway',
                  )}
                  onClick={throwIt}
                >
                  {isGoing ? 'Yes, throw it away' : 'Throw away'}
                </button>
              )}
            </PrintFacts>
          </div>
          {onFilm && <FilmHands film={film} print={onFilm} />}
        </>
      ) : (
        <p className="quiet p-4">
          Nothing hangs here yet. Open a scene, a clip or a take and press{' '}
          <kbd className="keycap">Ctrl+P</kbd>:{' '}
          <Link to={`/productions/${production}`}>the library</Link>
        </p>
      )}
      <NightList
        production={production}
        rows={night.rows}
        mayChange={mayChange}
        onChange={night.change}
      />
      {keysShown && (
        <ShortcutSheet groups={PRINTS_KEYS} byHand={[]} onClose={() => setKeysShown(false)} />
      )}
    </div>
  );
}

/** The print before it of the same scene; else the one before it. */
const olderLike = (prints: readonly PrintCard[], place: number): PrintCard | undefined =>
  prints.slice(place + 1).find(({ name }) => name === prints[place]?.name) ?? prints[place + 1];

/** What is done hangs on the line at once: nobody has to be told of it elsewhere. */
function usePutAway(production: string, onSeen: (job: string) => void): void {
  const done = (useJobs(production).data ?? []).find(
    ({ kind, state }) => kind === 'print' && (state === 'done' || state === 'cancelled'),
  )?.id;
  const latest = useRef(onSeen);
  latest.current = onSeen;
  useEffect(() => {
    if (done) latest.current(done);
  }, [done]);
}

/** The night list, and changing it; what leaves it hangs on the line. */
function useNightList(production: string) {
  const queries = useQueryClient();
  const notices = useNotices();
  const rows = useQuery(nightListQuery(production)).data ?? NO_ROWS;
  const underWay = rows
    .filter(({ state }) => state === 'running' || state === 'waiting')
    .map(({ id }) => id)
    .join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the line is looked at whenever the list is another
  useEffect(() => {
    void queries.invalidateQueries(printsQuery(production));
  }, [underWay, queries, production]);
  const change = (made: Promise<readonly PrintRow[]>) => {
    made
      .then((now) => queries.setQueryData(nightListKey(production), now), notices.trouble)
      .finally(() => queries.invalidateQueries({ queryKey: nightListKey(production) }));
  };
  return { rows, change };
}

const NO_ROWS: readonly PrintRow[] = [];

interface UnderProps {
  readonly films: readonly PrintCard[];
  readonly print: PrintCard;
  readonly under: PrintCard | null;
  readonly onLay: (id: string | null) => void;
}

/** Which print lies under the pane. */
function UnderChoice({ films, print, under, onLay }: UnderProps) {
  if (!isFilm(print)) return <p className="quiet">Films are laid under films.</p>;
  const others = films.filter(({ id }) => id !== print.id);
  if (!others.length) return <p className="quiet">Another print can be laid under this one.</p>;
  return (
    <select
      className="form-select"
      aria-label="What lies under the pane"
      value={under?.id ?? ''}
      onChange={({ target }) => onLay(target.value || null)}
    >
      <option value="">nothing</option>
      {others.map((one) => (
        <option key={one.id} value={one.id}>
          {one.name}, rev {one.revision}
        </option>
      ))}
    </select>
  );
}

/** Play, and the frame that shows. */
function FilmHands({ film, print }: { readonly film: Film; readonly print: PrintCard }) {
  const last = picturesIn(print) - 1;
  const shown = frameShown(print, film.picture);
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label={withPrintsKey('First frame', 'first')}
        onClick={() => film.goTo(0)}
      />
      <IconButton
        icon="chevron-left"
        label={withPrintsKey('A frame back', 'back')}
        onClick={() => film.step(-1)}
      />
      <IconButton
        icon={film.isPlaying ? 'pause-fill' : 'play-fill'}
        label={withPrintsKey(film.isPlaying ? 'Pause' : 'Play', 'play')}
        className="play"
        onClick={film.play}
      />
      <IconButton
        icon="chevron-right"
        label={withPrintsKey('A frame on', 'forward')}
        onClick={() => film.step(1)}
      />
      <IconButton
        icon="skip-end-fill"
        label={withPrintsKey('Last frame', 'last')}
        onClick={() => film.goTo(last)}
      />
      <span className="frame-box number">
        <b data-testid="frame">{String(shown).padStart(3, '0')}</b>
        <small>{(film.picture / print.frames_per_second).toFixed(2)} s</small>
      </span>
      <input
        type="range"
        className="film-slide"
        aria-label="The picture on show"
        min={0}
        max={last}
        value={film.picture}
        onChange={({ target }) => film.goTo(Number(target.value))}
      />
    </div>
  );
}
