import { useCallback, useEffect, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { type Schemas, sceneFrames, sentence } from '../../api/client';
import { readScene } from '../../api/scenes';
import { useRemembered } from '../../app/remembered';
import { Shell } from '../../app/Shell';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { BY_HAND, SHORTCUTS, withKey } from '../../app/shortcuts';
import { figureOf, stillThere } from '../../desk/selection';
import { type DeskHandle, type DeskHit, TimeDesk } from '../../desk/TimeDesk';
import type { ArcOf } from '../../stage/arcs';
import { PaintCount } from '../../stage/PaintCount';
import { PlanInset } from '../../stage/PlanInset';
import { Stage } from '../../stage/Stage';
import { EYE_HEIGHT, isPlan, type Mark, type StageView } from '../../stage/stagePainter';
import { DeskGrip, deskHeight } from '../document/DeskGrip';
import { Banners, LookedBanner, SavedState } from '../document/DocumentState';
import { DocumentTools } from '../document/DocumentTools';
import { HistoryCard } from '../document/HistoryCard';
import { useLooked } from '../document/useLooked';
import { usePlayback } from '../document/usePlayback';
import { useLibrary } from '../library/useLibrary';
import { ClipDrawer, type Laid } from './ClipDrawer';
import { SideCard } from './cards/SideCard';
import { FIRST_LOOK, memoryKey, type RoomMemory } from './roomMemory';
import { StageBar } from './StageBar';
import { type Edit, type Scene, type SceneState, useScene } from './useScene';
import { useSceneActions, wholeOrPart } from './useSceneActions';
import { useStageScene } from './useStageScene';

const MOST_ARCS = 4;
const FIGURE_DISTANCE = 5;

export function SceneRoom({ person }: { person: Schemas['Person'] }) {
  const { scene: id = '' } = useParams();
  const state = useScene(id);
  if (state.problem && !state.view) {
    return (
      <Shell person={person} room="Scene" crumbs={[{ text: 'Scene' }]} libraryTo="/" sceneTo={null}>
        <p className="refusal p-4">{sentence(state.problem)}</p>
      </Shell>
    );
  }
  if (!state.view) return null;
  return <OpenScene key={id} person={person} state={state} standing={state.view} />;
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: SceneState;
  readonly standing: Scene;
}

function OpenScene({ person, state, standing }: OpenProps) {
  const [memory, setMemory] = useRemembered<RoomMemory>(memoryKey(standing.id), FIRST_LOOK);
  const change = useCallback(
    (part: Partial<RoomMemory>) => setMemory((old) => ({ ...old, ...part })),
    [setMemory],
  );
  const onView = useCallback(
    (part: Partial<StageView>) => setMemory((old) => ({ ...old, view: { ...old.view, ...part } })),
    [setMemory],
  );
  const [historyShown, setHistoryShown] = useState(false);
  const [keysShown, setKeysShown] = useState(false);
  const { looked, setLooked, past } = useLooked('scene', standing.id, readScene);
  const scene = past || state.preview?.view || standing;
  const { desk } = scene;
  const library = useLibrary(standing.production);
  const [target, setTarget] = useState<DeskHit | null>(null);
  const deskHandle = useRef<DeskHandle>(null);
  const selection = stillThere(desk, memory.selection);
  const { view, options } = memory;

  const { player, frames } = usePlayback({
    id: standing.id,
    length: desk.length_frames,
    framesPerSecond: desk.frames_per_second,
    onMovedOn: state.refresh,
    onFrame: (frame) => deskHandle.current?.show(frame),
  });
  useEffect(() => {
    const edit = looked === null ? (state.preview?.edit ?? null) : null;
    frames.lookAt(player.frame);
    frames.show(
      scene.content,
      desk.length_frames,
      (start, end) => sceneFrames(scene.id, { start, end, step: 1, edit, revision: looked }),
      edit !== null,
    );
  }, [frames, player, scene.id, scene.content, desk.length_frames, state.preview, looked]);

  const stageScene = useStageScene(desk, frames);
  const place = ({ clip, stint }: Laid, hit: DeskHit): Edit => ({
    kind: 'place_stint',
    stint,
    clip: clip.id,
    start: Math.max(0, Math.round(hit.frame)),
    // A lane that only the preview shows is not there yet.
    lane: standing.desk.lanes.some((lane) => lane.id === hit.lane) ? hit.lane : null,
    ripple: options.ripple,
  });
  const frameFigure = () => {
    const chosen = figureOf(desk, selection) ?? view.watched;
    const id = stageScene.figures.some((figure) => figure.id === chosen)
      ? chosen
      : (stageScene.figures[0]?.id ?? null);
    onView({
      follow: true,
      watched: id,
      target: [0, EYE_HEIGHT, 0],
      orbit: { ...view.orbit, distance: FIGURE_DISTANCE },
    });
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
    memory: { ...memory, selection },
    change,
    onView,
    onFrameFigure: frameFigure,
    onZoom: (factor) => deskHandle.current?.zoom(factor),
    onHistory: () => setHistoryShown((shown) => !shown),
    onKeys: () => setKeysShown(true),
  });

  return (
    <Shell
      person={person}
      room="Scene"
      crumbs={[
        { text: standing.production_name, to: `/productions/${standing.production}` },
        { text: scene.name },
      ]}
      libraryTo={`/productions/${standing.production}`}
      sceneTo={`/scenes/${standing.id}`}
      tools={
        <DocumentTools
          withKey={withKey}
          state={state}
          standing={standing}
          onHistory={() => setHistoryShown((shown) => !shown)}
          onKeys={() => setKeysShown(true)}
        />
      }
      state={<SavedState state={state} revision={standing.revision} />}
    >
      <div
        className={`scene ${memory.drawerOpen ? '' : 'is-drawer-shut'}`}
        style={deskHeight(memory.deskHeight)}
      >
        <ClipDrawer
          clips={library.data?.clips.filter((clip) => !clip.archived) ?? []}
          mayChange={scene.may_change}
          isOpen={memory.drawerOpen}
          onOpen={(drawerOpen) => change({ drawerOpen })}
          onDrag={(laid, x, y) => {
            const hit = deskHandle.current?.hit(x, y) ?? null;
            setTarget(hit);
            state.showPreview(hit && place(laid, hit));
          }}
          onDrop={(laid, x, y) => {
            const hit = deskHandle.current?.hit(x, y) ?? null;
            setTarget(null);
            if (!hit) state.showPreview(null);
            else state.edit(place(laid, hit));
          }}
          onCancel={() => {
            setTarget(null);
            state.showPreview(null);
          }}
          onPlace={(laid) => state.edit(place(laid, { lane: null, frame: player.frame }))}
        />
        <section className="stage" aria-label="Stage">
          <StageBar
            view={view}
            onView={onView}
            onFrameFigure={frameFigure}
            scene={stageScene}
            player={player}
          />
          <div className="stage-picture">
            <Stage
              scene={stageScene}
              view={view}
              player={player}
              frames={frames}
              mayChange={scene.may_change}
              onOrbit={(orbit) => onView({ orbit })}
              onShift={(to) => onView({ target: to, follow: false })}
              onPick={pickJoint}
              onMark={drawMark}
            />
            {view.planInset && !isPlan(view.orbit) && stageScene.figures.length > 0 && (
              <PlanInset
                scene={stageScene}
                watched={view.watched}
                player={player}
                frames={frames}
              />
            )}
            {view.counts && <PaintCount player={player} />}
            <div className="banners">
              <Banners state={state} thing="scene" />
              <LookedBanner
                looked={looked}
                standing={standing.revision}
                thing="scene"
                onBack={() => setLooked(null)}
              />
            </div>
            {desk.lanes.length === 0 && (
              <p className="stage-empty">
                An empty stage. Draw a clip from the drawer down to the desk.
              </p>
            )}
          </div>
        </section>
        {historyShown ? (
          <HistoryCard
            standing={standing}
            looked={looked}
            onLook={setLooked}
            onGoBack={(revision) => {
              setLooked(null);
              void state.goBack(revision);
            }}
            onClose={() => {
              setLooked(null);
              setHistoryShown(false);
            }}
          />
        ) : (
          <SideCard
            scene={scene}
            desk={desk}
            player={player}
            options={options}
            selection={selection}
            onEdit={state.edit}
            onSelect={(chosen) => change({ selection: chosen })}
          />
        )}
        <div className="desk-place">
          <TimeDesk
            ref={deskHandle}
            desk={desk}
            player={player}
            selection={selection}
            target={target}
            mayChange={scene.may_change}
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
          <DeskGrip onHeight={(pixels) => change({ deskHeight: pixels })} />
        </div>
      </div>
      {keysShown && (
        <ShortcutSheet groups={SHORTCUTS} byHand={BY_HAND} onClose={() => setKeysShown(false)} />
      )}
    </Shell>
  );
}
