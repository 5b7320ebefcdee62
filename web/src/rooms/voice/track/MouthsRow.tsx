import { LABEL_WIDTH, type Scale, xOf } from '../../../desk/scale';
import { heldAt } from '../../../player/heldAt';
import { useFrame } from '../../../player/useFrame';
import { FIRST_FRAME } from '../firstFrame';
import type { VoiceRoomParts } from '../room';

interface RowProps {
  readonly room: VoiceRoomParts;
  readonly scale: Scale;
}

const LEAST_NUMBER = 9;

/** The mouths as they are exposed, by their numbers; those set by hand are ticked. */
export function MouthsRow({ room, scale }: RowProps) {
  const { sheet, player, goTo } = room;
  const frame = useFrame(player);
  const shown = heldAt(sheet.run, frame);
  const names = new Map(sheet.mouths.map((mouth) => [mouth.key, mouth.name]));
  return (
    <div className="voice-row voice-mouths">
      <span className="row-name">Mouths</span>
      {sheet.run.map((one) => {
        const left = xOf(scale, one.frame);
        const wide = one.length * scale.pixelsPerFrame;
        if (left + wide <= LABEL_WIDTH || left >= scale.width) return null;
        const isByHand = one.reason === 'by hand';
        return (
          <button
            key={one.frame}
            type="button"
            tabIndex={-1}
            className={`exposure number ${one === shown ? 'is-here' : ''} ${isByHand ? 'is-by-hand' : ''}`}
            style={{ left: left + 0.5, width: Math.max(2, wide - 1) }}
            title={`${names.get(one.mouth)}, ${one.frame + FIRST_FRAME} to ${one.frame + one.length - 1 + FIRST_FRAME}: ${one.reason}`}
            aria-label={`${one.drawing} on ${one.frame + FIRST_FRAME}`}
            onClick={() => goTo(one.frame)}
          >
            {wide >= LEAST_NUMBER ? (one.drawing === 10 ? 0 : one.drawing) : ''}
          </button>
        );
      })}
    </div>
  );
}
