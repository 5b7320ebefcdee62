import { useState } from 'react';
import { useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { type Line, type LineEdit, readLine } from '../../api/lines';
import { useRemembered } from '../../app/remembered';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import type { Range } from '../../player/player';
import { DocumentShell } from '../document/DocumentShell';
import { Banners } from '../document/DocumentState';
import { HistoryCard } from '../document/HistoryCard';
import { OpenDocument } from '../document/OpenDocument';
import { useHistory } from '../document/useHistory';
import { usePlayback } from '../document/usePlayback';
import { SideCard } from './cards/SideCard';
import { EitherSide } from './EitherSide';
import { Face } from './Face';
import { MouthStrip } from './MouthStrip';
import type { VoiceRoomParts, Writing } from './room';
import { LineSheetPanel } from './sheet/LineSheetPanel';
import { VoiceTrack } from './track/VoiceTrack';
import { useAsked } from './useAsked';
import { type LineState, useLine } from './useLine';
import { useLineSound } from './useLineSound';
import { useMouths } from './useMouths';
import { useReading } from './useReading';
import { useTapping } from './useTapping';
import { useVoiceActions } from './useVoiceActions';
import { VoiceTransport } from './VoiceTransport';
import './voice.css';
import { VOICE_BY_HAND, VOICE_KEYS, withVoiceKey } from './voiceKeys';
import { FIRST_VOICE, type VoiceMemory, voiceKey } from './voiceMemory';

export function VoiceRoom({ person }: { person: Schemas['Person'] }) {
  const { line: id = '' } = useParams();
  const state = useLine(id);
  return (
    <OpenDocument person={person} room="Voice" state={state}>
      {(standing) => <OpenLine key={id} person={person} state={state} standing={standing} />}
    </OpenDocument>
  );
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: LineState;
  readonly standing: Line;
}

function OpenLine({ person, state, standing }: OpenProps) {
  const [memory, setMemory] = useRemembered(voiceKey(standing.id), FIRST_VOICE);
  const change = (part: Partial<VoiceMemory>) => setMemory((old) => ({ ...old, ...part }));
  const [sheetShown, setSheetShown] = useState(false);
  const [rows, setRows] = useState<Range | null>(null);
  const [writing, setWriting] = useState<Writing | null>(null);
  const [noteOn, setNoteOn] = useState<number | null>(null);
  const history = useHistory('line', standing.id, readLine);
  const line = history.past || state.preview?.view || standing;
  const sheet = line.line;
  const { player } = usePlayback({
    id: standing.id,
    length: sheet.frames,
    framesPerSecond: sheet.fps,
    onMovedOn: state.refresh,
    isReady: ALWAYS,
  });
  const track = useLineSound(sheet, player);
  const drawn = useMouths(standing.production, sheet);
  const reading = useReading(standing, state);
  const onEdit = (edit: LineEdit) => state.edit(edit);
  const tap = useTapping({ player, onEdit, onPreview: state.showPreview });
  const { asked, ask } = useAsked(state.line.waiting, sheet.mouths);
  const room: VoiceRoomParts = {
    line,
    sheet,
    ...drawn,
    player,
    track,
    memory,
    change,
    onEdit,
    onPreview: state.showPreview,
    rows,
    onRows: setRows,
    asked,
    writing,
    onWriting: standing.may_change ? setWriting : () => {},
    expose: (mouth) => {
      if (tap(mouth)) return;
      onEdit({ kind: 'write_mouth', frame: player.frame, mouth, length: null });
      ask(player.frame, mouth);
    },
    goTo: (frame) => {
      player.pause();
      player.goTo(frame);
      setRows(null);
    },
  };
  const hands = useVoiceActions({
    room,
    state,
    reading,
    onHistory: history.toggle,
    onSheet: () => setSheetShown(true),
    onNote: setNoteOn,
  });
  return (
    <DocumentShell
      person={person}
      room="Voice"
      state={state}
      standing={standing}
      crumbs={[{ text: 'Lines' }, { text: line.name }]}
      voiceTo={`/lines/${standing.id}`}
      sceneTo={null}
      history={history}
      withKey={withVoiceKey}
      onKeys={() => setSheetShown(true)}
    >
      <div className="voice-room">
        <div className="voice-time">
          <VoiceTransport room={room} hands={hands} />
          <VoiceTrack room={room} />
        </div>
        <div className="voice-middle">
          <Face room={room} />
          <EitherSide room={room} />
          {history.isShown ? (
            <HistoryCard standing={standing} history={history} state={state} />
          ) : (
            <SideCard room={room} hands={hands} />
          )}
          <Banners state={state} thing="line" standing={standing.revision} history={history} />
        </div>
        <MouthStrip room={room} />
        <LineSheetPanel room={room} noteOn={noteOn} onNote={setNoteOn} />
      </div>
      {sheetShown && (
        <ShortcutSheet
          groups={VOICE_KEYS}
          byHand={VOICE_BY_HAND}
          onClose={() => setSheetShown(false)}
        />
      )}
    </DocumentShell>
  );
}

/** The face stands still: every frame of it can be painted. */
const ALWAYS = () => true;
