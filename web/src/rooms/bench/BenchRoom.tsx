import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { type Clip, clipPoses, readClip } from '../../api/clips';
import { useNotices } from '../../app/notices';
import { ShortcutSheet } from '../../app/ShortcutSheet';
import { isWriting } from '../../app/shortcuts';
import { jointOf } from '../../stage/arcs';
import { costumeQuery } from '../../stage/Filmstrip';
import { PaintCount } from '../../stage/PaintCount';
import { Stage } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { onTheFigure } from '../../stage/stagePainter';
import { DeskGrip, deskHeight } from '../document/DeskGrip';
import { DocumentShell } from '../document/DocumentShell';
import { Banners } from '../document/DocumentState';
import { HistoryCard } from '../document/HistoryCard';
import { OpenDocument } from '../document/OpenDocument';
import { useHistory } from '../document/useHistory';
import { usePlayback } from '../document/usePlayback';
import { useRoomMemory } from '../document/useRoomMemory';
import { BenchBar } from './BenchBar';
import { BenchTransport } from './BenchTransport';
import { BENCH_BY_HAND, BENCH_KEYS, withBenchKey } from './benchKeys';
import { benchKey, FIRST_BENCH } from './benchMemory';
import { Curves } from './Curves';
import { SideCards } from './cards/SideCards';
import { type FrameWindow, framing } from './curvePicture';
import { Dial } from './Dial';
import { FavourStrip } from './FavourStrip';
import { JointTree } from './JointTree';
import { KeySheet } from './KeySheet';
import { NamePose } from './NamePose';
import { type Paste, PasteSheet } from './PasteSheet';
import { PoseCard } from './PoseCard';
import { poseHand } from './poseHand';
import { SeamBadge } from './SeamBadge';
import { keyFrames, spanOf } from './sheet';
import { useLayPictures } from './TracingMenu';
import { type BenchState, useBench } from './useBench';
import { useBenchActions } from './useBenchActions';
import { useChosenKeys } from './useChosenKeys';
import { editOf, usePose } from './usePose';
import { useTracing } from './useTracing';

const FIGURE = 'figure';

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
  const { looked } = history;
  const clip = history.past || state.preview?.view || standing;
  const { bench } = clip;
  const { inPlace } = memory;
  const chosen = useMemo(
    () => memory.chosen.filter((name) => bench.joints.some((joint) => joint.name === name)),
    [memory.chosen, bench.joints],
  );
  const { keys, choose, onEdit, onPreview } = useChosenKeys(state, standing.bench);

  const { player, frames } = usePlayback({
    id: standing.id,
    length: bench.length_frames,
    framesPerSecond: bench.frames_per_second,
    onMovedOn: state.refresh,
  });
  useEffect(() => {
    const edit = looked === null ? (state.preview?.edit ?? null) : null;
    frames.lookAt(player.frame);
    frames.show(
      `${clip.content} ${inPlace}`,
      bench.length_frames,
      (start, end) => clipPoses(clip.id, { start, end, in_place: inPlace, edit, revision: looked }),
      edit !== null,
      clip.content,
    );
  }, [frames, player, clip.id, clip.content, bench.length_frames, state.preview, looked, inPlace]);

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
  const costume = useQuery(costumeQuery(bench.figure));
  const scene = useMemo((): StageScene => {
    const goesRound = bench.is_cycle && (inPlace || !bench.travels);
    const names = new Map(bench.poses.map((named) => [named.frame, named.name]));
    return {
      figures: costume.data
        ? [
            {
              id: FIGURE,
              name: bench.figure_name,
              costume: costume.data,
              mark: [0, 0, 0],
              plants: [],
              starts: [],
            },
          ]
        : [],
      pose: (_figure, frame) => pose.shown(frame) ?? frames.pose(FIGURE, frame),
      length: bench.length_frames,
      firstFrame: 0,
      backdrop: 'paper',
      keyFrames: keyFrames(bench),
      goesRound,
      poseName: (frame) => names.get(frame) ?? '',
      underlay,
    };
  }, [bench, inPlace, costume.data, frames, pose.shown, underlay]);
  const view = useMemo((): StageView => {
    const places = chosen.map((name) => bench.joints.findIndex((joint) => joint.name === name));
    const joints = places.slice(0, 4).map((joint) => ({ figure: FIGURE, joint }));
    return { ...memory.view, watched: FIGURE, arcs: { ...memory.view.arcs, joints } };
  }, [memory.view, chosen, bench.joints]);

  const axis = useHeldAxis();
  const pickJoint = useCallback(
    (joint: string, adding: boolean) =>
      setMemory((old) => {
        if (!adding) return { ...old, chosen: [joint] };
        const has = old.chosen.includes(joint);
        const next = has ? old.chosen.filter((name) => name !== joint) : [...old.chosen, joint];
        return { ...old, chosen: next };
      }),
    [setMemory],
  );
  const hand = useMemo(
    () =>
      poseHand({
        bench,
        scene,
        figure: FIGURE,
        joints: chosen,
        shown: memory.joints,
        mayChange: clip.may_change,
        heldAxis: () => axis.current,
        onPick: pickJoint,
        onDraw: (frame, changed, done) => {
          player.pause();
          pose.draw(frame, changed, done);
        },
        onCancel: pose.cancelDraw,
      }),
    [bench, scene, chosen, memory.joints, clip.may_change, axis, pickJoint, player, pose],
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
    const which = pose.loose ? null : chosen.length ? chosen : names;
    pose.key(player.frame, which, memory.kinds);
  };

  useBenchActions({
    clip,
    state,
    player,
    memory: { ...memory, chosen },
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
    >
      <div
        className={`bench ${record ? 'is-recording' : ''}`}
        style={deskHeight(memory.deskHeight)}
      >
        <div className="bench-left">
          <JointTree
            bench={bench}
            player={player}
            joints={chosen}
            onJoints={(joints) => change({ chosen: joints })}
          />
          {chosen.length > 0 && (
            <PoseCard
              clip={clip}
              player={player}
              joint={chosen[chosen.length - 1]}
              edit={pose.loose ? editOf(pose.loose) : previewEdit}
              onDraw={(frame, changed, done) => {
                player.pause();
                pose.draw(frame, changed, done);
              }}
            />
          )}
        </div>
        <section className="stage" aria-label="Stage">
          <BenchBar
            clip={clip}
            memory={memory}
            onView={onView}
            onChange={change}
            onFrameFigure={frameFigure}
            onEdit={onEdit}
            onPreview={onPreview}
          />
          {/* biome-ignore lint/a11y/noStaticElementInteractions: files dropped here can also be chosen in the bar */}
          <div
            className="stage-picture"
            onDragOver={(event) => event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              void pictures.bringIn([...event.dataTransfer.files]);
            }}
          >
            <Stage
              scene={scene}
              view={view}
              player={player}
              frames={frames}
              mayChange={clip.may_change}
              onOrbit={(orbit) => onView({ orbit })}
              onShift={(to) => onView({ target: to, follow: false })}
              onPick={() => {}}
              hand={hand}
            />
            {memory.view.counts && <PaintCount player={player} />}
            {record && <p className="record-flag">Record is on: every change is keyed</p>}
            {pose.loose && !record && (
              <p className="loose-flag" role="status">
                Loose pose at {pose.loose.frame}: <kbd className="keycap">K</kbd> keys it,{' '}
                <kbd className="keycap">Esc</kbd> drops it
              </p>
            )}
            {pictures.coming && (
              <p className="samples-flag" role="status">
                Bringing in {pictures.coming}
              </p>
            )}
            {!bench.is_keyed && (
              <p className="samples-flag">Samples: the first change makes a key on every frame.</p>
            )}
            <Banners state={state} thing="clip" standing={standing.revision} history={history} />
          </div>
        </section>
        {history.isShown ? (
          <HistoryCard standing={standing} history={history} state={state} />
        ) : (
          <aside className="side bench-side" aria-label="The cycle">
            <div className="sheet-head">
              <h2>{clip.name}</h2>
              <span className="quiet number">
                {bench.length_frames} fr {bench.is_cycle ? 'cycle' : 'once'}
              </span>
              <span className="grow" />
              {bench.seam && <SeamBadge seam={bench.seam} />}
            </div>
            {bench.is_cycle && (
              <Dial
                bench={bench}
                player={player}
                mayChange={clip.may_change}
                onKeys={choose}
                onPreview={onPreview}
                onEdit={onEdit}
              />
            )}
            <SideCards
              tab={memory.tab}
              onTab={(tab) => change({ tab })}
              clip={clip}
              player={player}
              joints={chosen}
              onEdit={onEdit}
              onPreview={onPreview}
              onJoints={(joints) => change({ chosen: joints })}
              onKeys={choose}
              beat={beat}
              onBeat={showBeat}
              snap={memory.snap}
              onSnap={(snap) => change({ snap })}
              onFrame={setFramed}
            />
          </aside>
        )}
        <div className="bench-desk">
          <DeskGrip onHeight={(pixels) => change({ deskHeight: pixels })} />
          <BenchTransport
            clip={clip}
            player={player}
            inPlace={inPlace}
            record={record}
            isLoose={pose.loose !== null}
            chosen={chosen.length}
            onInPlace={(wanted) => change({ inPlace: wanted })}
            kinds={memory.kinds}
            onKinds={(kinds) => change({ kinds })}
            onRecord={setRecord}
            onKey={keyPose}
          />
          <div className="bench-time">
            <KeySheet
              bench={bench}
              player={player}
              joints={chosen}
              keys={keys}
              folded={memory.folded}
              mayChange={clip.may_change}
              isSaving={state.line.waiting > 0}
              snap={memory.snap}
              onSnap={(snap) => change({ snap })}
              beat={beat}
              onBeat={showBeat}
              onKeys={choose}
              onJoints={(joints) => change({ chosen: joints })}
              onFold={(folded) => change({ folded })}
              onPreview={onPreview}
              onEdit={onEdit}
            />
            <Curves
              clip={clip}
              player={player}
              joints={chosen}
              keys={keys}
              preview={previewEdit}
              rates={memory.rates}
              onRates={(rates) => change({ rates })}
              framed={framed}
              onFramed={setFramed}
              onFrameKeys={frameKeys}
              onKeys={choose}
              onPreview={onPreview}
              onEdit={onEdit}
            />
          </div>
          <FavourStrip
            player={player}
            joints={chosen}
            wish={memory.favour}
            mayChange={clip.may_change}
            onWish={(part) => change({ favour: { ...memory.favour, ...part } })}
            onPreview={onPreview}
            onEdit={onEdit}
          />
        </div>
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

/** X, Y or Z while it is held down: the axis of a turn. */
function useHeldAxis() {
  const held = useRef<'x' | 'y' | 'z' | null>(null);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      const plain = !event.ctrlKey && !event.metaKey && !event.altKey && !isWriting(event.target);
      if (plain && (key === 'x' || key === 'y' || key === 'z')) held.current = key;
    };
    const up = () => {
      held.current = null;
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', up);
    };
  }, []);
  return held;
}
