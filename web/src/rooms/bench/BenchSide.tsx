import { Name } from '../../app/Name';
import { SideCards } from './cards/SideCards';
import { Dial } from './Dial';
import type { BenchRoomParts } from './room';
import { SeamBadge } from './SeamBadge';

/** The cycle beside the stage: its seam, its dial, and the cards. */
export function BenchSide({ room }: { readonly room: BenchRoomParts }) {
  const { clip, player, memory, change, joints, onJoints, onKeys, beat, onBeat } = room;
  const { onFramed, onEdit, onPreview } = room;
  const { bench } = clip;
  return (
    <aside className="side bench-side" aria-label="The cycle">
      <div className="sheet-head">
        <Name as="h2" text={clip.name} />
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
          onKeys={onKeys}
          onPreview={onPreview}
          onEdit={onEdit}
        />
      )}
      <SideCards
        tab={memory.tab}
        onTab={(tab) => change({ tab })}
        clip={clip}
        player={player}
        joints={joints}
        onEdit={onEdit}
        onPreview={onPreview}
        onJoints={onJoints}
        onKeys={onKeys}
        beat={beat}
        onBeat={onBeat}
        snap={memory.snap}
        onSnap={(snap) => change({ snap })}
        onFrame={onFramed}
      />
    </aside>
  );
}
