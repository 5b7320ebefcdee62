import { type UseQueryResult, useQueries } from '@tanstack/react-query';
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { type Schemas, sceneFrames, sentence } from '../../api/client';
import { Choice, IconButton, NumberBox, Tick } from '../../app/controls';
import { useNotices } from '../../app/notices';
import { Shell } from '../../app/Shell';
import type { Selection } from '../../desk/LaneRow';
import { type DeskHandle, type DeskHit, TimeDesk } from '../../desk/TimeDesk';
import { FrameStore } from '../../player/frameStore';
import { Player } from '../../player/player';
import { VIEWS, type ViewName } from '../../stage/camera';
import type { Costume } from '../../stage/costume';
import { costumeQuery } from '../../stage/Filmstrip';
import { currentTarget, Stage } from '../../stage/Stage';
import { EYE_HEIGHT, type StageScene, type StageView } from '../../stage/stagePainter';
import { useLibrary } from '../library/useLibrary';
import { ClipDrawer, type Laid } from './ClipDrawer';
import { SideCard, splitAt } from './SideCard';
import { type Edit, type Scene, type SceneState, useScene } from './useScene';
import { useSceneKeys } from './useSceneKeys';

const LEAST_DESK = 150;
const FIRST_VIEW: StageView = {
  orbit: VIEWS['Three-quarter'],
  ghosts: { shown: true, count: 2, step: 8 },
  follow: true,
  target: [0, EYE_HEIGHT, 0],
  watched: null,
};

export function SceneRoom({ person }: { person: Schemas['Person'] }) {
  const { scene: id = '' } = useParams();
  const state = useScene(id);
  if (state.problem && !state.scene) {
    return (
      <Shell person={person} room="Scene" crumbs={[{ text: 'Scene' }]} libraryTo="/" sceneTo={null}>
        <p className="refusal p-4">{sentence(state.problem)}</p>
      </Shell>
    );
  }
  if (!state.scene) return null;
  return <OpenScene key={id} person={person} state={state} standing={state.scene} />;
}

interface OpenProps {
  readonly person: Schemas['Person'];
  readonly state: SceneState;
  readonly standing: Scene;
}

function OpenScene({ person, state, standing }: OpenProps) {
  const notices = useNotices();
  const scene = state.preview?.outcome.scene ?? standing;
  const { desk } = scene;
  const library = useLibrary(standing.production);
  const [frames] = useState(() => new FrameStore(notices.trouble, state.refresh));
  const [player] = useState(() => new Player((frame) => frames.isReady(frame)));
  const [view, setView] = useState(FIRST_VIEW);
  const [selection, setSelection] = useState<Selection | null>(null);
  const [target, setTarget] = useState<DeskHit | null>(null);
  const [deskHeight, setDeskHeight] = useState<number | null>(null);
  const deskHandle = useRef<DeskHandle>(null);

  useEffect(() => () => player.pause(), [player]);
  useEffect(() => player.onFrame((frame) => frames.lookAt(frame)), [player, frames]);
  useEffect(() => {
    player.setScene(desk.length_frames, desk.frames_per_second);
  }, [player, desk.length_frames, desk.frames_per_second]);
  useEffect(() => {
    const edit = state.preview?.edit ?? null;
    frames.show(
      scene.content,
      desk.length_frames,
      (start, end) => sceneFrames(scene.id, { start, end, step: 1, edit }),
      edit !== null,
    );
  }, [frames, scene.id, scene.content, desk.length_frames, state.preview]);

  const stageScene = useStageScene(scene, frames);
  const place = ({ clip, stint }: Laid, hit: DeskHit): Edit => ({
    kind: 'place_stint',
    stint,
    clip: clip.id,
    start: Math.max(0, Math.round(hit.frame)),
    // A lane that only the preview shows is not there yet.
    lane: standing.desk.lanes.some((lane) => lane.id === hit.lane) ? hit.lane : null,
    new_ids: [`figure-${clip.figure.slice(0, 8)}`, `lane-${clip.figure.slice(0, 8)}`],
  });

  const chosen = selection?.kind === 'stint' ? selection.id : null;
  useSceneKeys({
    player,
    undo: state.undo,
    redo: state.redo,
    remove: () => chosen && state.edit({ kind: 'delete_stint', stint: chosen }),
    split: () => chosen && state.edit(splitAt({ id: chosen }, player.frame)),
    letGo: () => setSelection(null),
  });

  const grow = (event: PointerEvent<HTMLDivElement>) => {
    const room = event.currentTarget.parentElement;
    if (!room) return;
    const from = event.clientY;
    const height = room.querySelector('.time-desk')?.clientHeight ?? 250;
    const most = room.clientHeight - 180;
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.onpointermove = (moved) =>
      setDeskHeight(Math.max(LEAST_DESK, Math.min(most, height + from - moved.clientY)));
    event.currentTarget.onpointerup = (up) => {
      (up.currentTarget as HTMLDivElement).onpointermove = null;
    };
  };

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
      tools={<UndoRedo state={state} standing={standing} />}
      state={
        <span className={`saved ${state.busy ? 'is-busy' : ''}`}>
          {state.busy ? 'Saving …' : `Saved, rev ${standing.revision}`}
        </span>
      }
    >
      <div
        className="scene"
        style={
          deskHeight ? ({ '--desk-height': `${deskHeight}px` } as React.CSSProperties) : undefined
        }
      >
        <ClipDrawer
          clips={library.data?.clips ?? []}
          mayChange={standing.may_change}
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
          <StageBar view={view} onView={setView} scene={stageScene} player={player} />
          <div className="stage-picture">
            <Stage
              scene={stageScene}
              view={view}
              player={player}
              frames={frames}
              onOrbit={(orbit) => setView({ ...view, orbit })}
            />
            {desk.lanes.length === 0 && (
              <p className="stage-empty">
                An empty stage. Draw a clip from the drawer down to the desk.
              </p>
            )}
          </div>
        </section>
        <SideCard
          scene={standing}
          desk={desk}
          selection={selection}
          playhead={() => player.frame}
          onEdit={state.edit}
          onSelect={setSelection}
        />
        <div className="desk-place">
          <TimeDesk
            ref={deskHandle}
            desk={desk}
            player={player}
            selection={selection}
            target={target}
            mayChange={standing.may_change}
            onSelect={setSelection}
            onPreview={state.showPreview}
            onEdit={state.edit}
          />
          <div className="desk-grip" onPointerDown={grow} aria-hidden="true" />
        </div>
      </div>
    </Shell>
  );
}

function useStageScene(scene: Scene, frames: FrameStore): StageScene {
  const costumes = useQueries({
    queries: scene.figures.map((figure) => costumeQuery(figure.figure)),
    combine: combineCostumes,
  });
  return useMemo(
    () => ({
      figures: scene.figures.flatMap((figure, place) => {
        const costume = costumes[place];
        return costume ? [{ id: figure.id, costume }] : [];
      }),
      pose: (figure, frame) => frames.pose(figure, frame),
      length: scene.desk.length_frames,
      firstFrame: scene.desk.first_frame,
      backdrop: scene.desk.backdrop,
    }),
    [scene, frames, costumes],
  );
}

const combineCostumes = (results: UseQueryResult<Costume>[]) => results.map((query) => query.data);

interface StageBarProps {
  readonly view: StageView;
  readonly onView: (view: StageView) => void;
  readonly scene: StageScene;
  readonly player: Player;
}

function StageBar({ view, onView, scene, player }: StageBarProps) {
  const names = Object.keys(VIEWS) as ViewName[];
  const named = names.find(
    (name) => VIEWS[name].yaw === view.orbit.yaw && VIEWS[name].pitch === view.orbit.pitch,
  );
  const { ghosts } = view;
  return (
    <div className="stage-bar">
      <Choice<ViewName>
        label="View"
        value={named ?? null}
        onChange={(name) =>
          onView({ ...view, orbit: { ...VIEWS[name], distance: view.orbit.distance } })
        }
        options={names.map((name) => ({ value: name, text: name }))}
      />
      <span className="grow" />
      <Tick
        label="Ghosts"
        checked={ghosts.shown}
        onChange={(shown) => onView({ ...view, ghosts: { ...ghosts, shown } })}
      />
      {ghosts.shown && (
        <>
          <NumberBox
            label="Ghosts on either side"
            value={ghosts.count}
            smallest={1}
            unit="each side"
            onCommit={(count) =>
              onView({ ...view, ghosts: { ...ghosts, count: Math.min(6, Math.round(count)) } })
            }
          />
          <NumberBox
            label="Frames between ghosts"
            value={ghosts.step}
            smallest={1}
            unit="fr apart"
            onCommit={(step) => onView({ ...view, ghosts: { ...ghosts, step: Math.round(step) } })}
          />
        </>
      )}
      <Tick
        label="Follow"
        checked={view.follow}
        onChange={(follow) =>
          onView({ ...view, follow, target: currentTarget(scene, view, player) })
        }
      />
    </div>
  );
}

function UndoRedo({ state, standing }: { state: SceneState; standing: Scene }) {
  if (!standing.may_change) return null;
  return (
    <span className="d-inline-flex ms-2">
      <IconButton
        icon="arrow-counterclockwise"
        label={standing.undo ? `Undo: ${standing.undo} (Ctrl Z)` : 'Nothing to undo'}
        disabled={!standing.undo}
        onClick={state.undo}
      />
      <IconButton
        icon="arrow-clockwise"
        label={standing.redo ? `Redo: ${standing.redo} (Ctrl Shift Z)` : 'Nothing to redo'}
        disabled={!standing.redo}
        onClick={state.redo}
      />
    </span>
  );
}
