import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { pictureShown, type Run, readRun, setQuery } from '../../api/drawings';
import { useRemembered } from '../../app/remembered';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import type { Range } from '../../player/player';
import { PictureStore } from '../../stage/pictureStore';
import { DocumentShell } from '../document/DocumentShell';
import { Banners } from '../document/DocumentState';
import { HistoryCard } from '../document/HistoryCard';
import { OpenDocument } from '../document/OpenDocument';
import { useHistory } from '../document/useHistory';
import { usePlayback } from '../document/usePlayback';
import { DrawingsTransport } from './DrawingsTransport';
import './drawings.css';
import { DRAWINGS_BY_HAND, DRAWINGS_KEYS, withDrawingsKey } from './drawingsKeys';
import { type DrawingsMemory, drawingsKey, FIRST_DRAWINGS } from './drawingsMemory';
import { OrderLine } from './OrderLine';
import { RunSheetPanel } from './RunSheetPanel';
import type { Drawing, DrawingsRoomParts } from './room';
import { SetShelf } from './SetShelf';
import { RunStrip } from './strip/RunStrip';
import { LightTable } from './table/LightTable';
import { TableBar } from './table/TableBar';
import { useDrawingsActions } from './useDrawingsActions';
import { useNudging } from './useNudging';
import { type RunState, useRun } from './useRun';
import { useSetChange } from './useSetChange';

export function DrawingsRoom({ person }: { person: Schemas['Person'] }) {
  const { run: id = '' } = useParams();
  const state = useRun(id);
  return (
    <OpenDocument person={person} room="Drawings" state={state}>
      {(standing) => <OpenRun key={id} person={person} state={state} standing={standing} />}
    </OpenDocument>
  );
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: RunState;
  readonly standing: Run;
}

function OpenRun({ person, state, standing }: OpenProps) {
  const [memory, setMemory] = useRemembered(drawingsKey(standing.id), FIRST_DRAWINGS);
  const change = (part: Partial<DrawingsMemory>) => setMemory((old) => ({ ...old, ...part }));
  const [keysShown, setKeysShown] = useState(false);
  const [rows, setRows] = useState<Range | null>(null);
  const [looked, setLooked] = useState<number | null>(null);
  const history = useHistory('run', standing.id, readRun);
  const run = history.past || state.preview?.view || standing;
  const sheet = run.run;
  const { fps } = sheet;
  const set = sheet.run.drawings ?? '';
  const { data: drawn } = useQuery({ ...setQuery(set), enabled: set !== '' });
  const drawings = useMemo(() => {
    const placed = new Map(drawn?.drawings.placed.map((one) => [one.number, one]));
    const found = new Map<number, Drawing>();
    for (const one of drawn?.drawings.drawn.drawings ?? []) {
      const at = placed.get(one.number);
      if (at) found.set(one.number, { ...one, placed: at });
    }
    return found;
  }, [drawn]);
  const [pictures] = useState(
    () => new PictureStore((file) => pictureShown(standing.production, file, 'shown')),
  );
  const { player } = usePlayback({
    id: standing.id,
    length: sheet.frames,
    framesPerSecond: fps,
    onMovedOn: state.refresh,
    isReady: ALWAYS,
  });
  const hands = useSetChange(set, standing.id);
  const nudging = useNudging(hands);
  const room: DrawingsRoomParts = {
    run,
    sheet,
    fps,
    drawn: drawn ?? null,
    drawings,
    pictures,
    player,
    memory,
    change,
    onEdit: (edit) => state.edit(edit),
    onPreview: state.showPreview,
    set: hands,
    nudge: nudging.nudge,
    onNudge: nudging.by,
    looked: looked !== null && drawings.has(looked) ? looked : null,
    onLook: setLooked,
    rows,
    onRows: setRows,
    goTo: (frame) => {
      player.pause();
      player.goTo(frame);
      setLooked(null);
      setRows(null);
    },
  };
  const actions = useDrawingsActions({
    room,
    state,
    onHistory: history.toggle,
    onKeys: () => setKeysShown(true),
  });
  return (
    <DocumentShell
      person={person}
      room="Drawings"
      state={state}
      standing={standing}
      crumbs={[{ text: 'Drawings' }, { text: run.name }]}
      drawingsTo={`/runs/${standing.id}`}
      sceneTo={null}
      history={history}
      withKey={withDrawingsKey}
      onKeys={() => setKeysShown(true)}
    >
      <div className="drawings-room">
        <SetShelf room={room} />
        <div className="drawings-middle">
          <TableBar room={room} />
          <LightTable room={room} />
          {history.isShown && <HistoryCard standing={standing} history={history} state={state} />}
          <Banners state={state} thing="run" standing={standing.revision} history={history} />
        </div>
        <div className="drawings-time">
          <DrawingsTransport room={room} hands={actions} />
          <OrderLine room={room} />
          <RunStrip room={room} />
          <Says room={room} />
        </div>
        <RunSheetPanel room={room} />
      </div>
      {keysShown && (
        <ShortcutSheet
          groups={DRAWINGS_KEYS}
          byHand={DRAWINGS_BY_HAND}
          onClose={() => setKeysShown(false)}
        />
      )}
    </DocumentShell>
  );
}

/** What no frame shows, and what the set has not. */
function Says({ room }: { readonly room: DrawingsRoomParts }) {
  const { fell_out: fell, lacking } = room.sheet;
  if (!fell.length && !lacking.length) return null;
  return (
    <p className="run-says" role="status">
      {fell.length > 0 && <span className="stamp warn">{listed(fell)} fell out</span>}{' '}
      {lacking.length > 0 && (
        <span className="stamp warn">
          {listed(lacking)} {lacking.length === 1 ? 'is' : 'are'} not in the set
        </span>
      )}
    </p>
  );
}

const MOST_TOLD = 12;
const listed = (numbers: readonly number[]): string =>
  numbers.length > MOST_TOLD
    ? `${numbers.slice(0, MOST_TOLD).join(', ')} and ${numbers.length - MOST_TOLD} more`
    : numbers.join(', ');

/** Pictures come when they come: play never waits for one. */
const ALWAYS = () => true;
