import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, useSyncExternalStore } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { newClip } from '../../api/clips';
import { type CutOut, makeFigure, readCutOut } from '../../api/cutOuts';
import { IconButton } from '../../app/controls';
import { useNotices } from '../../app/notices';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { useShortcuts } from '../../app/shortcuts';
import { DocumentShell } from '../document/DocumentShell';
import { Banners } from '../document/DocumentState';
import { HistoryCard } from '../document/HistoryCard';
import { OpenDocument } from '../document/OpenDocument';
import { useHistory } from '../document/useHistory';
import { usePlayback } from '../document/usePlayback';
import { libraryKey } from '../library/useLibrary';
import './cutout.css';
import { CUT_OUT_BY_HAND, CUT_OUT_KEYS, withCutOutKey } from './cutOutKeys';
import { PaperTable } from './PaperTable';
import { PartShelf } from './PartShelf';
import { type CutOutParts, laid } from './room';
import { type CutOutState, useCutOut } from './useCutOut';

/** A try goes through in two seconds. */
const FPS = 24;
const NUDGE = 0.002;

export function CutOutRoom({ person }: { person: Schemas['Person'] }) {
  const { cutOut: id = '' } = useParams();
  const state = useCutOut(id);
  return (
    <OpenDocument person={person} room="Drawings" state={state}>
      {(standing) => <OpenCutOut key={id} person={person} state={state} standing={standing} />}
    </OpenDocument>
  );
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: CutOutState;
  readonly standing: CutOut;
}

function OpenCutOut({ person, state, standing }: OpenProps) {
  const [keysShown, setKeysShown] = useState(false);
  const [picked, setPicked] = useState<string | null>(null);
  const history = useHistory('cut_out', standing.id, readCutOut);
  const view = history.past || state.preview?.view || standing;
  const sheet = view.cut_out;
  const { player } = usePlayback({
    id: standing.id,
    length: Math.max(1, sheet.swing.length),
    framesPerSecond: FPS,
    onMovedOn: state.refresh,
    isReady: ALWAYS,
  });
  const making = useMaking(standing);
  const chosen = sheet.parts.find(({ part }) => part.name === picked)?.part ?? null;
  const room: CutOutParts = {
    view,
    sheet,
    player,
    chosen: chosen?.name ?? null,
    onChoose: setPicked,
    onEdit: (edit) => state.edit(edit),
    onPreview: state.showPreview,
  };
  const names = sheet.parts.map(({ part }) => part.name);
  const step = (by: 1 | -1) => {
    const place = chosen ? names.indexOf(chosen.name) + by : by > 0 ? 0 : names.length - 1;
    setPicked(names[Math.max(0, Math.min(names.length - 1, place))] ?? null);
  };
  const may = (edit: (part: NonNullable<typeof chosen>) => void) => () => {
    if (view.may_change && chosen) edit(chosen);
  };
  const nudge = (x: number, y: number) =>
    may(({ name, pivot = [0, 0] }) =>
      state.edit({ kind: 'move_pivot', part: name, to: [pivot[0] + x, pivot[1] + y] }),
    );
  const lay = (towards: 'front' | 'back') =>
    may(({ name }) => {
      const order = laid(names, name, towards);
      if (order) state.edit({ kind: 'lay_parts', parts: [...order] });
    });
  const rest = () => {
    player.pause();
    player.goTo(0);
  };
  useShortcuts(CUT_OUT_KEYS, {
    play: () => player.toggle(),
    rest,
    partBefore: () => step(1),
    partAfter: () => step(-1),
    front: lay('front'),
    back: lay('back'),
    takeOut: may(({ name }) => state.edit({ kind: 'drop_part', part: name })),
    pivotLeft: nudge(-NUDGE, 0),
    pivotRight: nudge(NUDGE, 0),
    pivotUp: nudge(0, NUDGE),
    pivotDown: nudge(0, -NUDGE),
    make: () => {
      if (view.may_change && !sheet.hitch) making.make();
    },
    letGo: () => setPicked(null),
    undo: state.undo,
    redo: state.redo,
    history: history.toggle,
    keys: () => setKeysShown(true),
  });
  return (
    <DocumentShell
      person={person}
      room="Drawings"
      state={state}
      standing={standing}
      crumbs={[{ text: 'Cut-outs' }, { text: view.name }]}
      drawingsTo={`/cut-outs/${standing.id}`}
      sceneTo={null}
      history={history}
      withKey={withCutOutKey}
      onKeys={() => setKeysShown(true)}
    >
      <div className="cut-out-room">
        <div className="cut-out-middle">
          <PaperTable room={room} />
          {history.isShown && <HistoryCard standing={standing} history={history} state={state} />}
          <Banners state={state} thing="cut-out" standing={standing.revision} history={history} />
        </div>
        <Hands room={room} making={making} onRest={rest} />
        <PartShelf room={room} />
      </div>
      {keysShown && (
        <ShortcutSheet
          groups={CUT_OUT_KEYS}
          byHand={CUT_OUT_BY_HAND}
          onClose={() => setKeysShown(false)}
        />
      )}
    </DocumentShell>
  );
}

const ALWAYS = () => true;

/** Making the figure, and a first clip of it. */
function useMaking(standing: CutOut) {
  const queries = useQueryClient();
  const notices = useNotices();
  const go = useNavigate();
  const read = async () => {
    await queries.invalidateQueries({ queryKey: libraryKey(standing.production) });
    await queries.invalidateQueries({ queryKey: ['cut_out', standing.id] });
  };
  const figure = useMutation({
    mutationFn: () => makeFigure(standing.id),
    onSuccess: async (made) => {
      notices.say(made.says);
      await queries.invalidateQueries({ queryKey: ['figure', made.figure] });
      await read();
    },
    onError: (problem) => notices.trouble(problem),
  });
  const clip = useMutation({
    mutationFn: (of: string) =>
      newClip(standing.production, {
        name: `${standing.name} 1`,
        source: 'blank',
        of,
        scene_figure: null,
        start: 0,
        end: null,
        rate: String(FPS),
        length_frames: FPS,
        is_cycle: true,
        colour: 'cobalt',
      }),
    onSuccess: async (made) => {
      await read();
      void go(`/clips/${made.id}`);
    },
    onError: (problem) => notices.trouble(problem),
  });
  return {
    make: () => figure.mutate(),
    isMaking: figure.isPending || clip.isPending,
    startClip: (of: string) => clip.mutate(of),
  };
}

interface HandsProps {
  readonly room: CutOutParts;
  readonly making: ReturnType<typeof useMaking>;
  readonly onRest: () => void;
}

/** Try the joints, and make the figure. */
function Hands({ room, making, onRest }: HandsProps) {
  const { player, sheet, view } = room;
  const { playing } = useSyncExternalStore(player.subscribe, player.snapshot);
  const figure = sheet.cut_out.figure ?? '';
  return (
    <div className="transport cut-out-hands" role="toolbar" aria-label="Try and make">
      <IconButton icon="skip-start-fill" label={withCutOutKey('Rest', 'rest')} onClick={onRest} />
      <IconButton
        icon={playing ? 'pause-fill' : 'play-fill'}
        label={withCutOutKey(playing ? 'Stop' : 'Try the joints', 'play')}
        className="play"
        disabled={sheet.swing.length === 0}
        onClick={() => player.toggle()}
      />
      <span className={`stamp ${sheet.hitch ? 'warn' : 'good'}`} role="status">
        {sheet.hitch ??
          (sheet.has_legs ? 'It has two legs to walk on' : 'It has no pair of legs to walk on')}
      </span>
      <span className="grow" />
      {figure && <Link to={`/productions/${view.production}`}>In the library</Link>}
      {figure && view.may_change && (
        <button
          type="button"
          className="btn btn-paper"
          disabled={making.isMaking}
          onClick={() => making.startClip(figure)}
        >
          New clip of it
        </button>
      )}
      {view.may_change && (
        <button
          type="button"
          className="btn btn-lamp"
          title={withCutOutKey('Make the figure, or change the one that was made', 'make')}
          disabled={making.isMaking || Boolean(sheet.hitch)}
          onClick={() => making.make()}
        >
          {figure ? 'Make it anew' : 'Make the figure'}
        </button>
      )}
    </div>
  );
}
