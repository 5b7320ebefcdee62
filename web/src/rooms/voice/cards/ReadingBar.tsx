import { LayLine } from '../LayLine';
import type { VoiceRoomParts } from '../room';
import type { VoiceHands } from '../useVoiceActions';

interface Props {
  readonly room: VoiceRoomParts;
  readonly hands: VoiceHands;
}

/** What comes next: read the sound, or lay the line in a scene; or how far the reading is. */
export function ReadingBar({ room, hands }: Props) {
  const { sheet, line } = room;
  const { reading } = hands;
  if (!line.may_change) return null;
  if (reading) {
    const share = reading.of ? (100 * reading.figure) / reading.of : 0;
    return (
      <div className="reading-bar" role="status" aria-label="Reading the sound">
        <progress max={100} value={share} />
        <span className="number">{Math.round(share)} %</span>
        <button type="button" className="btn btn-paper" onClick={hands.cancel}>
          Cancel
        </button>
      </div>
    );
  }
  const isWanted = sheet.text.trim() !== '' && !sheet.is_read;
  return (
    <div className="reading-bar">
      {isWanted || !sheet.reading ? (
        <>
          <button
            type="button"
            className="btn btn-lamp"
            disabled={!sheet.text.trim()}
            onClick={() => hands.read(false)}
          >
            Expose the line
          </button>
          <button
            type="button"
            className="btn btn-paper"
            title="By loudness and brightness alone: open, half, narrow, closed"
            onClick={() => hands.read(true)}
          >
            From the sound alone
          </button>
        </>
      ) : (
        <LayLine room={room} />
      )}
    </div>
  );
}
