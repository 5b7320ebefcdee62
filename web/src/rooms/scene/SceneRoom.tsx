import { useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { type Schemas, sceneFrames } from '../../api/client';
import { readScene } from '../../api/scenes';
import { useNotices } from '../../app/notices';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { BY_HAND, SHORTCUTS, withKey } from '../../app/shortcuts';
import {
  figureOf,
  slowWish,
  soundLaneOf,
  stillThere,
  stintsOf,
  timedStint,
} from '../../desk/selection';
import { type DeskHandle, TimeDesk } from '../../desk/TimeDesk';
import { LaidHead } from '../../player/laidHead';
import { CameraInset } from '../../stage/CameraInset';
import { VIEWS } from '../../stage/camera';
import { PaintCount } from '../../stage/PaintCount';
import { PlanInset } from '../../stage/PlanInset';
import { currentTarget, Stage } from '../../stage/Stage';
import type { ArcOf, Mark } from '../../stage/scene';
import { isPlan, onTheFigure, plantedFoot, targetAt } from '../../stage/stagePainter';
import { DeskGrip, deskHeight } from '../document/DeskGrip';
import { DocumentShell } from '../document/DocumentShell';
import { Banners } from '../document/DocumentState';
import { HistoryCard } from '../document/HistoryCard';
import { OpenDocument } from '../document/OpenDocument';
import { PrintTool } from '../document/print/PrintTool';
import { ofDocument } from '../document/print/printWish';
import { usePrinting } from '../document/print/usePrinting';
import { useHistory } from '../document/useHistory';
import { usePlayback } from '../document/usePlayback';
import { useRoomMemory } from '../document/useRoomMemory';
import { useLibrary } from '../library/useLibrary';
import { ClipDrawer } from './ClipDrawer';
import { SideCard } from './cards/SideCard';
import { RunList } from './drawings/RunList';
import { stageHit } from './drawings/stageHit';
import { useRuns } from './drawings/useRuns';
import { FitSheet } from './FitSheet';
import { type PairWanted, useStagePair } from './join/useJoin';
import { usePairHand } from './join/usePairHand';
import { deskPixels, FIRST_LOOK, memoryKey } from './roomMemory';
import { StageBar } from './StageBar';
import { SoundComing } from './sound/SoundComing';
import { SoundList } from './sound/SoundList';
import { useSceneSound } from './sound/useSceneSound';
import { useSounds } from './sound/useSounds';
import { NO_CHECKS, useChecks } from './useChecks';
import { useCrossing } from './useCrossing';
import { useFixing } from './useFixing';
import { useFraming } from './useFraming';
import { useGuiding } from './useGuiding';
import { useLaying } from './useLaying';
import { type Edit, type Scene, type SceneState, useScene } from './useScene';
import { useSceneActions, wholeOrPart } from './useSceneActions';
import { useSizing } from './useSizing';
import { useStageScene } from './useStageScene';
import { useStrands } from './useStrands';

const MOST_ARCS = 4;
const OWN_TIME = { keeps_own_time: true };
// From so far above a whole way is seen.
const PLAN_METRES = 14;

export function SceneRoom({ person }: { person: Schemas['Person'] }) {
  const { scene: id = '' } = useParams();
  const state = useScene(id);
  return (
    <OpenDocument person={person} room="Scene" state={state}>
      {(standing) => <OpenScene key={id} person={person} state={state} standing={standing} />}
    </OpenDocument>
  );
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: SceneState;
  readonly standing: Scene;
}

function OpenScene({ person, state, standing }: OpenProps) {
  const { memory, change, onView } = useRoomMemory(memoryKey(standing.id), FIRST_LOOK);
  const notices = useNotices();
  const [keysShown, setKeysShown] = useState(false);
  const history = useHistory('scene', standing.id, readScene);
  const { looked } = history;
  const scene = history.past || state.preview?.view || standing;
  const { desk } = scene;
  const library = useLibrary(standing.production);
  const deskHandle = useRef<DeskHandle>(null);
  const selection = stillThere(desk, memory.selection);
  const { view, options } = memory;

  const { player, frames } = usePlayback({
    id: standing.id,
    length: desk.played_frames,
    framesPerSecond: desk.frames_per_second,
    onMovedOn: state.refresh,
    onFrame: (frame) => deskHandle.current?.show(frame),
  });
  useEffect(() => {
    const edit = looked === null ? (state.preview?.edit ?? null) : null;
    frames.lookAt(player.frame);
    frames.show(
      scene.content,
      desk.played_frames,
      (start, end) => sceneFrames(scene.id, { start, end, step: 1, edit, revision: looked }),
      edit !== null,
    );
  }, [frames, player, scene.id, scene.content, desk.played_frames, state.preview, looked]);

  const track = useSceneSound(history.past || standing, player);
  const head = useMemo(() => new LaidHead(player, desk.laid), [player, desk.laid]);
  const drawn = looked === null ? (state.preview?.edit ?? null) : null;
  const timed = timedStint(selection);
  const stintStrands = useStrands(scene, drawn, {
    isOpen: options.strands && timed !== null,
    stint: timed,
  });
  const sceneStrands = useStrands(scene, drawn, { isOpen: options.sceneStrands, stint: null });
  const slow = () => {
    if (scene.may_change) change({ selection: slowWish(desk, selection, head) });
  };

  const [pairWanted, setPairWanted] = useState<PairWanted | null>(null);
  const pair = useStagePair(
    scene,
    state.preview?.edit ?? null,
    looked === null ? pairWanted : null,
  );
  const checks = useChecks(standing, memory.window, !state.preview && state.line.waiting === 0);
  const stageScene = useStageScene(desk, head, frames, pair, standing.production, player);
  const pairHand = usePairHand(pair, view, scene.may_change, state);
  const fixing = useFixing({
    scene,
    state,
    stage: stageScene,
    head,
    selection,
    options: memory.fixing,
    onSelect: (wanted) => change({ selection: wanted }),
  });
  const crossing = useCrossing({
    scene,
    state,
    view,
    ripple: options.ripple,
    // The ground stays where it is while the way is drawn on it.
    onPlan: () =>
      onView({
        orbit: { ...VIEWS.Plan, distance: Math.max(view.orbit.distance, PLAN_METRES) },
        target: currentTarget(stageScene, view, player),
        follow: false,
      }),
  });
  const sizing = useSizing({ scene, state, stage: stageScene, view, selection, head });
  const framing = useFraming({
    scene,
    state,
    stage: stageScene,
    view,
    head,
    selection,
    onView,
    onSelect: (wanted) => change({ selection: wanted }),
  });
  const guiding = useGuiding({
    scene,
    state,
    stage: stageScene,
    view,
    head,
    selection,
    onSelect: (wanted) => change({ selection: wanted }),
  });
  const hand = framing.hand ?? guiding.hand ?? fixing?.hand ?? crossing.hand ?? sizing ?? pairHand;
  const printing = usePrinting(
    {
      ...ofDocument('scenes', standing),
      length: standing.desk.played_frames,
      framesPerSecond: standing.desk.frames_per_second,
      isCycle: false,
      hasCamera: standing.desk.camera !== null,
      hasSound: standing.desk.heard !== null,
      firstFrame: standing.desk.first_frame,
    },
    view,
    player,
  );
  const laying = useLaying(standing.desk, state, options.ripple);
  const soundLane = soundLaneOf(desk, selection);
  // A new lane keeps its own time, and lies by played frames.
  const soundFrame = () => (soundLane ? head.on(soundLane) : head.on(OWN_TIME)).frame;
  const sounds = useSounds({
    production: standing.production,
    desk: standing.desk,
    state,
    mayChange: scene.may_change,
    chosenLane: soundLane?.id ?? null,
    onLaid: (id) => change({ selection: { kind: 'sound', id } }),
  });
  const runs = useRuns({
    desk: standing.desk,
    state,
    standsAt: () => ({
      place: targetAt(stageScene, view, player.frame),
      headingDegrees: Math.round(view.orbit.yaw),
      on: null,
    }),
    onLaid: (id) => change({ selection: { kind: 'lane', id } }),
  });
  const stagePlace = useRef<HTMLDivElement>(null);
  const runHit = (x: number, y: number) => ({
    desk: deskHandle.current?.hit(x, y) ?? null,
    stage: stageHit(stagePlace.current, stageScene, view, player.frame, x, y),
  });
  const frameFigure = () => {
    const chosen = figureOf(desk, selection) ?? view.watched;
    const id = stageScene.figures.some((figure) => figure.id === chosen)
      ? chosen
      : (stageScene.figures[0]?.id ?? null);
    onView({ ...onTheFigure(view), watched: id });
  };
  const pickJoint = (joint: ArcOf) => {
    const same = (other: ArcOf) => other.figure === joint.figure && other.joint === joint.joint;
    const known = view.arcs.joints.some(same);
    const joints = known
      ? view.arcs.joints.filter((other) => !same(other))
      : [...view.arcs.joints, joint].slice(-MOST_ARCS);
    onView({ arcs: { shown: true, joints }, watched: joint.figure });
  };
  const drawMark = (figure: string, mark: Mark | null, done: boolean) => {
    const edit: Edit | null = mark && { kind: 'set_mark', figure, mark: [...mark] };
    if (done && edit) state.edit(edit);
    else state.showPreview(edit);
  };

  useSceneActions({
    scene,
    state,
    player,
    head,
    onSlow: slow,
    memory: { ...memory, selection },
    change,
    onView,
    onFrameFigure: frameFigure,
    onAboutFoot: () => {
      const foot = plantedFoot(stageScene, view, player.frame);
      if (foot) onView({ follow: false, target: foot });
      else notices.say('No foot is planted at this frame.');
    },
    onZoom: (factor) => deskHandle.current?.zoom(factor),
    onHistory: history.toggle,
    onKeys: () => setKeysShown(true),
    asksToFit: laying.asks,
    onSound: () => track.setOn(!track.snapshot().isOn),
    onPrint: () => printing.setOpen(true),
    onPrintAgain: () => {
      if (scene.may_change) printing.print();
    },
  });

  return (
    <DocumentShell
      person={person}
      room="Scene"
      state={state}
      standing={standing}
      crumbs={[{ text: scene.name }]}
      sceneTo={`/scenes/${standing.id}`}
      history={history}
      withKey={withKey}
      onKeys={() => setKeysShown(true)}
      tools={<PrintTool printing={printing} label={withKey('Print the scene', 'print')} />}
    >
      <div
        className={`scene ${memory.drawerOpen ? '' : 'is-drawer-shut'}`}
        style={deskHeight(deskPixels(memory, standing.desk.sound_lanes.length))}
      >
        <ClipDrawer
          clips={library.data?.clips.filter((clip) => !clip.archived) ?? []}
          mayChange={scene.may_change}
          isOpen={memory.drawerOpen}
          onOpen={(drawerOpen) => change({ drawerOpen })}
          onDrag={(laid, x, y) => laying.over(laid, deskHandle.current?.hit(x, y) ?? null)}
          onDrop={(laid, x, y) => laying.drop(laid, deskHandle.current?.hit(x, y) ?? null)}
          onCancel={laying.letGo}
          onPlace={(laid) => laying.drop(laid, { lane: null, soundLane: null, frame: head.frame })}
          onPlaceNext={(laid) => laying.next(laid, stintsOf(selection)[0])}
        >
          <RunList
            production={standing.production}
            runs={library.data?.runs.filter((run) => !run.archived) ?? []}
            mayChange={scene.may_change}
            fresh={runs.fresh}
            onDrag={(run, x, y) => runs.over(run, runHit(x, y))}
            onDrop={(run, x, y) => runs.drop(run, runHit(x, y))}
            onCancel={runs.letGo}
            onPlace={(run) =>
              runs.place(run, selection?.kind === 'lane' ? selection.id : null, head.frame)
            }
          />
          <SoundList
            sounds={library.data?.sounds.filter((sound) => !sound.archived) ?? []}
            mayChange={scene.may_change}
            fresh={sounds.fresh}
            onDrag={(laid, x, y) => sounds.over(laid, deskHandle.current?.hit(x, y) ?? null)}
            onDrop={(laid, x, y) => sounds.drop(laid, deskHandle.current?.hit(x, y) ?? null)}
            onCancel={sounds.letGo}
            onPlace={(laid) => sounds.place(laid, soundFrame())}
            onFiles={(files) => void sounds.layFiles(files, soundFrame())}
          />
        </ClipDrawer>
        <section className="stage" aria-label="Stage">
          <StageBar
            view={view}
            onView={onView}
            onFrameFigure={frameFigure}
            scene={stageScene}
            player={player}
            hasCamera={desk.camera !== null}
          />
          <div className="stage-picture" ref={stagePlace}>
            <Stage
              scene={stageScene}
              view={view}
              player={player}
              frames={frames}
              mayChange={scene.may_change}
              onOrbit={(orbit) => onView({ orbit, through: false })}
              onShift={(to) => onView({ target: to, follow: false, through: false })}
              onPick={pickJoint}
              {...(!crossing.drawn && { onMark: drawMark })}
              {...(hand && { hand })}
            />
            {view.planInset &&
              !isPlan(view.orbit) &&
              !framing.isThrough &&
              stageScene.figures.length > 0 && (
                <PlanInset
                  scene={stageScene}
                  watched={view.watched}
                  player={player}
                  frames={frames}
                />
              )}
            {view.cameraInset && desk.camera && !framing.isThrough && (
              <CameraInset
                scene={stageScene}
                view={view}
                player={player}
                frames={frames}
                said={desk.camera.exposure.said}
              />
            )}
            {framing.hand && (
              <p className="loose-flag" role="status">
                Framing: what you draw keys the camera at the playhead;{' '}
                <kbd className="keycap">Esc</kbd> lets go
              </p>
            )}
            {view.counts && <PaintCount player={player} />}
            {crossing.drawn && (
              <p className="loose-flag" role="status">
                Press where it sets off, and draw to where it arrives
              </p>
            )}
            {fixing && (
              <p className="loose-flag" role="status">
                Posing {fixing.lane.figure_name} on {fixing.lane.name}:{' '}
                <kbd className="keycap">Esc</kbd> lets go
              </p>
            )}
            <Banners state={state} thing="scene" standing={standing.revision} history={history} />
            {desk.lanes.length === 0 && (
              <p className="stage-empty">
                An empty stage. Draw a clip from the drawer down to the desk.
              </p>
            )}
          </div>
        </section>
        {history.isShown ? (
          <HistoryCard standing={standing} history={history} state={state} />
        ) : (
          <SideCard
            scene={scene}
            desk={desk}
            head={head}
            options={options}
            selection={selection}
            pinned={timed === null ? sceneStrands : stintStrands}
            framing={framing}
            guiding={guiding}
            onSlow={slow}
            onOptions={(wanted) => change({ options: wanted })}
            onPreview={state.showPreview}
            standing={standing}
            drawn={state.preview?.edit ?? null}
            onPair={setPairWanted}
            crossing={crossing}
            fixOptions={memory.fixing}
            onFixOptions={(wanted) => change({ fixing: wanted })}
            onEdit={state.edit}
            onSelect={(chosen) => change({ selection: chosen })}
          />
        )}
        {/* biome-ignore lint/a11y/noStaticElementInteractions: bringing in a sound has a button in the drawer */}
        <div
          className="desk-place"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            const hit = deskHandle.current?.hit(event.clientX, event.clientY);
            void sounds.layFiles([...event.dataTransfer.files], hit ?? soundFrame());
          }}
        >
          <TimeDesk
            ref={deskHandle}
            desk={desk}
            player={player}
            track={track}
            head={head}
            sceneStrands={sceneStrands}
            stintStrands={timed && stintStrands ? { stint: timed, strands: stintStrands } : null}
            selection={selection}
            checks={looked === null ? checks : NO_CHECKS}
            target={laying.target ?? sounds.target ?? runs.target}
            mayChange={scene.may_change}
            isSaving={state.line.waiting > 0}
            options={options}
            onOptions={(wanted) => change({ options: wanted })}
            window={memory.window}
            onWindow={(window) => change({ window })}
            hasPart={memory.part !== null}
            onWhole={() => change(wholeOrPart(memory))}
            onSelect={(chosen) => change({ selection: chosen })}
            onPreview={state.showPreview}
            onEdit={state.edit}
          />
          {sounds.coming && <SoundComing {...sounds.coming} onCancel={sounds.cancel} />}
          <DeskGrip onHeight={(pixels) => change({ deskHeight: pixels })} />
        </div>
      </div>
      {laying.fitting && (
        <FitSheet
          scene={standing.id}
          what={laying.fitting.what}
          figure={laying.fitting.figure}
          onFit={laying.fit}
          onClose={laying.neverMind}
        />
      )}
      {keysShown && (
        <ShortcutSheet groups={SHORTCUTS} byHand={BY_HAND} onClose={() => setKeysShown(false)} />
      )}
    </DocumentShell>
  );
}
