import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { type Schemas, sentence } from '../../api/client';
import { type Cycle, readTake, type Take, type TakeEdit } from '../../api/takes';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { Stage } from '../../stage/Stage';
import { onTheFigure } from '../../stage/stagePainter';
import { deskHeight } from '../document/DeskGrip';
import { DocumentShell } from '../document/DocumentShell';
import { Banners } from '../document/DocumentState';
import { HistoryCard } from '../document/HistoryCard';
import { OpenDocument } from '../document/OpenDocument';
import { PrintTool } from '../document/print/PrintTool';
import { ofDocument } from '../document/print/printWish';
import { usePrinting } from '../document/print/usePrinting';
import { useHistory } from '../document/useHistory';
import { useRoomMemory } from '../document/useRoomMemory';
import { CompareBar, CompareTags } from './CompareBar';
import { SideCards } from './cards/SideCards';
import { RecipePanel } from './RecipePanel';
import { RecordSheet } from './record/RecordSheet';
import type { TakesRoomParts } from './room';
import { TakeDesk } from './TakeDesk';
import { TAKES_BY_HAND, TAKES_KEYS, withTakesKey } from './takesKeys';
import { FIRST_TAKES, takesKey } from './takesMemory';
import { useCleaned } from './useCleaned';
import { type TakeState, useTake } from './useTake';
import { useTakeActions } from './useTakeActions';
import { useTakeStage } from './useTakeStage';

export function TakesRoom({ person }: { person: Schemas['Person'] }) {
  const { take: id = '' } = useParams();
  const state = useTake(id);
  return (
    <OpenDocument person={person} room="Takes" state={state}>
      {(standing) => <OpenTake key={id} person={person} state={state} standing={standing} />}
    </OpenDocument>
  );
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: TakeState;
  readonly standing: Take;
}

function OpenTake({ person, state, standing }: OpenProps) {
  const go = useNavigate();
  const { memory, change, onView } = useRoomMemory(takesKey(standing.id), FIRST_TAKES);
  const [sheetShown, setSheetShown] = useState(false);
  const [isRecording, setRecording] = useState(false);
  const [loop, setLoop] = useState<Cycle | null>(null);
  const history = useHistory('take', standing.id, readTake);
  const take = history.past || state.preview?.view || standing;
  const { cleaned, isWorking, problem, looked, player, frames } = useCleaned({
    take,
    state,
    revision: history.looked,
    window: memory.window,
  });
  const known = memory.joints.filter((name) => cleaned?.joints.includes(name));
  const joints = known.length ? known : firstJoints(cleaned?.joints ?? []);
  const { scene, view } = useTakeStage({ take, cleaned, memory, joints, frames });
  const isWhole = cleaned !== null && isAllOf(standing, memory.window);
  const printing = usePrinting(
    {
      ...ofDocument('takes', standing),
      length: isWhole ? cleaned.frames : null,
      framesPerSecond: cleaned?.frames_per_second ?? 24,
      isCycle: false,
      hasCamera: false,
      hasSound: false,
      firstFrame: 0,
    },
    view,
    player,
  );
  const onEdit = (edit: TakeEdit) => state.edit(edit);
  const onJoints = (wanted: readonly string[]) => change({ joints: wanted });
  const room: TakesRoomParts = {
    take,
    cleaned,
    isWorking,
    looked,
    player,
    memory,
    change,
    onView,
    joints,
    onJoints,
    loop,
    onLoop: (wanted) => {
      setLoop(wanted);
      player.setRange(wanted && { start: wanted.start, end: wanted.end });
      if (wanted) player.goTo(wanted.start);
    },
    onEdit,
    onPreview: state.showPreview,
    goTo: (frame, joint) => {
      player.pause();
      player.goTo(frame);
      if (joint) onJoints([joint, ...joints.filter((name) => name !== joint)].slice(0, 3));
    },
  };
  const hands = useTakeActions({
    room,
    state,
    onHistory: history.toggle,
    onSheet: () => setSheetShown(true),
    onRecord: () => setRecording(true),
    onPrint: () => printing.setOpen(true),
    onFrameFigure: () => onView(onTheFigure(memory.view)),
    onClip: (clip) => go(`/clips/${clip}`),
  });
  return (
    <DocumentShell
      person={person}
      room="Takes"
      state={state}
      standing={standing}
      crumbs={[{ text: 'Takes' }, { text: take.name }]}
      takeTo={`/takes/${standing.id}`}
      sceneTo={null}
      history={history}
      withKey={withTakesKey}
      onKeys={() => setSheetShown(true)}
      tools={<PrintTool printing={printing} label={withTakesKey('Print the take', 'print')} />}
    >
      <div className="takes-room" style={deskHeight(memory.deskHeight)}>
        <RecipePanel room={room} onRecord={() => setRecording(true)} />
        <section className="stage" aria-label="Stage">
          <CompareBar room={room} onFrameFigure={() => onView(onTheFigure(memory.view))} />
          <div className="stage-picture">
            <Stage
              scene={scene}
              view={view}
              player={player}
              frames={frames}
              mayChange={false}
              onOrbit={(orbit) => onView({ orbit })}
              onShift={(to) => onView({ target: to, follow: false })}
              onPick={({ joint }) => {
                const name = cleaned?.joints[joint];
                if (name) onJoints([name, ...joints.filter((one) => one !== name)].slice(0, 3));
              }}
            />
            <CompareTags room={room} />
            {isWorking && (
              <p className="working-flag" role="status">
                Cleaning …
              </p>
            )}
            {problem ? (
              <p className="refusal takes-refusal" role="alert">
                {sentence(problem)}
              </p>
            ) : null}
            <Banners state={state} thing="take" standing={standing.revision} history={history} />
          </div>
        </section>
        {history.isShown ? (
          <HistoryCard standing={standing} history={history} state={state} />
        ) : (
          <SideCards room={room} hands={hands} />
        )}
        <TakeDesk room={room} hands={hands} />
      </div>
      {isRecording && (
        <RecordSheet
          production={standing.production}
          onto={standing.take.onto?.figure ?? null}
          onClose={() => setRecording(false)}
        />
      )}
      {sheetShown && (
        <ShortcutSheet
          groups={TAKES_KEYS}
          byHand={TAKES_BY_HAND}
          onClose={() => setSheetShown(false)}
        />
      )}
    </DocumentShell>
  );
}

/** Whether what is looked at is all of a take: of a long one it is a part. */
function isAllOf({ take }: Take, window: { start: number; end: number } | null): boolean {
  const [start, end] = window ? [window.start, window.end] : take.first_window;
  return start === 0 && end >= take.length_frames;
}

/** A hand and a foot: where captured motion is looked at first. */
function firstJoints(names: readonly string[]): readonly string[] {
  const like = (words: RegExp) => names.find((name) => words.test(name));
  const found = [like(/^r.*(wrist|hand)/i), like(/^l.*(ankle|foot)/i)];
  const known = found.filter((name) => name !== undefined);
  return known.length ? known : names.slice(0, 2);
}
