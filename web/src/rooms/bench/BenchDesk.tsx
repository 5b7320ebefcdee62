import { DeskGrip } from '../document/DeskGrip';
import { BenchTransport } from './BenchTransport';
import { Curves } from './Curves';
import { FavourStrip } from './FavourStrip';
import { KeySheet } from './KeySheet';
import type { BenchRoomParts } from './room';

interface DeskProps {
  readonly room: BenchRoomParts;
  readonly onFrameKeys: () => void;
  readonly onKey: () => void;
}

/** The bench's time: transport, key sheet, curves, favouring. */
export function BenchDesk({ room, onFrameKeys, onKey }: DeskProps) {
  const { clip, player, memory, change, pose, joints, onJoints, keys, onKeys } = room;
  const { beat, onBeat, record, onRecord, framed, onFramed, onEdit, onPreview } = room;
  return (
    <div className="bench-desk">
      <DeskGrip onHeight={(pixels) => change({ deskHeight: pixels })} />
      <BenchTransport
        clip={clip}
        player={player}
        inPlace={memory.inPlace}
        record={record}
        isLoose={pose.loose !== null}
        chosen={joints.length}
        onInPlace={(wanted) => change({ inPlace: wanted })}
        kinds={memory.kinds}
        onKinds={(kinds) => change({ kinds })}
        onRecord={onRecord}
        onKey={onKey}
      />
      <div className="bench-time">
        <KeySheet
          bench={clip.bench}
          player={player}
          joints={joints}
          keys={keys}
          folded={memory.folded}
          mayChange={clip.may_change}
          isSaving={room.isSaving}
          snap={memory.snap}
          onSnap={(snap) => change({ snap })}
          beat={beat}
          onBeat={onBeat}
          onKeys={onKeys}
          onJoints={onJoints}
          onFold={(folded) => change({ folded })}
          onPreview={onPreview}
          onEdit={onEdit}
        />
        <Curves
          clip={clip}
          player={player}
          joints={joints}
          keys={keys}
          preview={room.previewEdit}
          rates={memory.rates}
          onRates={(rates) => change({ rates })}
          framed={framed}
          onFramed={onFramed}
          onFrameKeys={onFrameKeys}
          onKeys={onKeys}
          onPreview={onPreview}
          onEdit={onEdit}
        />
      </div>
      <FavourStrip
        player={player}
        joints={joints}
        wish={memory.favour}
        mayChange={clip.may_change}
        onWish={(part) => change({ favour: { ...memory.favour, ...part } })}
        onPreview={onPreview}
        onEdit={onEdit}
      />
    </div>
  );
}
