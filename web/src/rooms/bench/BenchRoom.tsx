import { useCallback, useRef, useState } from 'react';
import { useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { type Clip, readClip } from '../../api/clips';
import { useNotices } from '../../app/notices';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { jointOf } from '../../stage/arcs';
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
import { BenchDesk } from './BenchDesk';
import { BenchSide } from './BenchSide';
import { BenchStage } from './BenchStage';
import { BENCH_BY_HAND, BENCH_KEYS, withBenchKey } from './benchKeys';
import { benchKey, FIRST_BENCH } from './benchMemory';
import { type FrameWindow, framing } from './curvePicture';
import { JointTree } from './JointTree';
import { NamePose } from './NamePose';
import { type Paste, PasteSheet } from './PasteSheet';
import { PoseCard } from './PoseCard';
import type { BenchRoomParts } from './room';
import { spanOf } from './sheet';
import { useLayPictures } from './TracingMenu';
import { type BenchState, useBench } from './useBench';
import { useBenchActions } from './useBenchActions';
import { useBenchFrames } from './useBenchFrames';
import { FIGURE, useBenchStage } from './useBenchStage';
import { useChosenJoints } from './useChosenJoints';
import { useChosenKeys } from './useChosenKeys';
import { editOf, usePose } from './usePose';
import { useTracing } from './useTracing';

export function BenchRoom({ person }: { person: Schemas['Person'] }) {
  const { clip: id = '' } = useParams();
  const state = useBench(id);
  return (
    <OpenDocument person={person} room="Bench" state={state}>
      {(standing) => <OpenBench key={id} person={person} state={state} standing={standing} />}
    </OpenDocument>
  );
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: BenchState;
  readonly standing: Clip;
}

function OpenBench({ person, state, standing }: OpenProps) {
  const notices = useNotices();
  const { memory, setMemory, change, onView } = useRoomMemory(benchKey(standing.id), FIRST_BENCH);
  const [sheetShown, setSheetShown] = useState(false);
  const [pasting, setPasting] = useState<Paste | null>(null);
  const [naming, setNaming] = useState(false);
  // Record is off whenever one comes in, and goes off when one leaves.
  const [record, setRecord] = useState(false);
  const [framed, setFramed] = useState<FrameWindow | null>(null);
  const [beat, setBeat] = useState<string | null>(null);
  const showBeat = (wanted: string | null) => {
    setBeat(wanted);
    if (wanted) change({ tab: 'beats' });
  };
  const history = useHistory('clip', standing.id, readClip);
  const clip = history.past || state.preview?.view || standing;
  const { bench } = clip;
  const { inPlace } = memory;
  const { joints, chooseJoints, pickJoint } = useChosenJoints(bench, memory.chosen, setMemory);
  const { keys, choose, onEdit, onPreview } = useChosenKeys(state, standing.bench);

  const { player, frames } = useBenchFrames({ clip, state, looked: history.looked, inPlace });

  const repaint = useRef(() => {});
  const onShown = useCallback(() => repaint.current(), []);
  const pose = usePose({
    clip: standing.id,
    content: standing.content,
    inPlace,
    record,
    bothSides: memory.bothSides,
    onEdit,
    onShown,
    onOtherLoose: (frame) =>
      notices.say(`The pose at ${frame} is still loose: K keys it, Esc drops it.`),
  });
  repaint.current = () => frames.tell();

  const pictures = useLayPictures(standing, memory.view.orbit, onEdit);
  const underlay = useTracing(clip, memory.tracing, onShown);
  const { scene, view, hand } = useBenchStage({
    clip,
    memory,
    joints,
    player,
    frames,
    pose,
    underlay,
    onPick: pickJoint,
  });
  const printing = usePrinting(
    {
      ...ofDocument('clips', standing),
      length: standing.bench.length_frames,
      framesPerSecond: standing.bench.frames_per_second,
      isCycle: standing.bench.is_cycle,
      hasCamera: false,
      hasSound: false,
      firstFrame: 0,
      isInPlace: inPlace,
    },
    view,
    player,
  );
  const frameFigure = () => onView(onTheFigure(memory.view));
  const frameKeys = () => {
    const span = spanOf(keys);
    if (framed || !span) setFramed(null);
    else setFramed(framing(...span));
  };
  const keyPose = () => {
    player.pause();
    const names = bench.joints.map((joint) => joint.name);
    // A loose pose is keyed whole: what was changed, and nothing of it is lost.
    const which = pose.loose ? null : joints.length ? joints : names;
    pose.key(player.frame, which, memory.kinds);
  };

  useBenchActions({
    clip,
    state,
    player,
    memory: { ...memory, chosen: joints },
    keys,
    pose,
    record,
    change,
    onView,
    onEdit,
    onKeys: choose,
    onRecord: (on) => setRecord(on && clip.may_change),
    onHistory: history.toggle,
    onSheet: () => setSheetShown(true),
    onName: () => setNaming(true),
    onPrint: () => printing.setOpen(true),
    onFrameKeys: frameKeys,
    onPasteFitted: setPasting,
    beat,
    onBeat: showBeat,
    onFrameFigure: frameFigure,
    where: (joint) => {
      const shown = scene.pose(FIGURE, player.frame);
      return shown && jointOf(shown.positions, joint);
    },
  });

  const previewEdit = state.preview?.edit ?? null;
  const room: BenchRoomParts = {
    clip,
    player,
    memory,
    change,
    onView,
    pose,
    joints,
    onJoints: chooseJoints,
    keys,
    onKeys: choose,
    beat,
    onBeat: showBeat,
    record,
    onRecord: setRecord,
    framed,
    onFramed: setFramed,
    isSaving: state.line.waiting > 0,
    previewEdit,
    onEdit,
    onPreview,
  };
  return (
    <DocumentShell
      person={person}
      room="Bench"
      state={state}
      standing={standing}
      crumbs={[{ text: bench.figure_name }, { text: clip.name }]}
      benchTo={`/clips/${standing.id}`}
      sceneTo={standing.used_in[0] ? `/scenes/${standing.used_in[0].id}` : null}
      history={history}
      withKey={withBenchKey}
      onKeys={() => setSheetShown(true)}
      tools={<PrintTool printing={printing} label={withBenchKey('Print the clip', 'print')} />}
    >
      <div
        className={`bench ${record ? 'is-recording' : ''}`}
        style={deskHeight(memory.deskHeight)}
      >
        <div className="bench-left">
          <JointTree bench={bench} player={player} joints={joints} onJoints={chooseJoints} />
          {joints.length > 0 && (
            <PoseCard
              clip={clip}
              player={player}
              joint={joints[joints.length - 1]}
              edit={pose.loose ? editOf(pose.loose) : previewEdit}
              onDraw={(frame, changed, done) => {
                player.pause();
                pose.draw(frame, changed, done);
              }}
            />
          )}
        </div>
        <BenchStage
          room={room}
          scene={scene}
          view={view}
          hand={hand}
          frames={frames}
          pictures={pictures}
          onFrameFigure={frameFigure}
        >
          <Banners state={state} thing="clip" standing={standing.revision} history={history} />
        </BenchStage>
        {history.isShown ? (
          <HistoryCard standing={standing} history={history} state={state} />
        ) : (
          <BenchSide room={room} />
        )}
        <BenchDesk room={room} onFrameKeys={frameKeys} onKey={keyPose} />
      </div>
      {naming && (
        <NamePose player={player} bench={bench} onEdit={onEdit} onClose={() => setNaming(false)} />
      )}
      {pasting && (
        <PasteSheet
          clip={standing}
          paste={pasting}
          onEdit={onEdit}
          onClose={() => setPasting(null)}
        />
      )}
      {sheetShown && (
        <ShortcutSheet
          groups={BENCH_KEYS}
          byHand={BENCH_BY_HAND}
          onClose={() => setSheetShown(false)}
        />
      )}
    </DocumentShell>
  );
}
