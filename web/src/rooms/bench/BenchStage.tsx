import type { ReactNode } from 'react';
import type { FrameStore } from '../../player/frameStore';
import { PaintCount } from '../../stage/PaintCount';
import { Stage } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { BenchBar } from './BenchBar';
import type { BenchRoomParts } from './room';
import type { useLayPictures } from './TracingMenu';
import type { useBenchStage } from './useBenchStage';

interface StageProps {
  readonly room: BenchRoomParts;
  readonly scene: StageScene;
  readonly view: StageView;
  readonly hand: ReturnType<typeof useBenchStage>['hand'];
  readonly frames: FrameStore;
  readonly pictures: ReturnType<typeof useLayPictures>;
  readonly onFrameFigure: () => void;
  /** What is said over the picture. */
  readonly children: ReactNode;
}

/** The figure, posed by hand, under its bar; what is odd about its state is said over it. */
export function BenchStage(props: StageProps) {
  const { room, scene, view, hand, frames, pictures, onFrameFigure, children } = props;
  const { clip, player, memory, change, onView, pose, record, onEdit, onPreview } = room;
  return (
    <section className="stage" aria-label="Stage">
      <BenchBar
        clip={clip}
        memory={memory}
        keys={room.keys}
        joints={room.joints}
        onView={onView}
        onChange={change}
        onFrameFigure={onFrameFigure}
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
        {!clip.bench.is_keyed && (
          <p className="samples-flag">Samples: the first change makes a key on every frame.</p>
        )}
        {children}
      </div>
    </section>
  );
}
