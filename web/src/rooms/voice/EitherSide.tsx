import { useFrame } from '../../player/useFrame';
import { FIRST_FRAME } from './firstFrame';
import type { VoiceRoomParts } from './room';
import type { MouthPicture } from './useMouths';

/** The mouth that shows, with the one before it in blue pencil and the next one in red. */
export function EitherSide({ room }: { readonly room: VoiceRoomParts }) {
  const { player, sheet, goTo } = room;
  const frame = useFrame(player);
  const place = sheet.run.findLastIndex((one) => one.frame <= frame);
  const cards = [
    { side: 'before', look: 'before', at: place - 1 },
    { side: 'now', look: 'ink', at: place },
    { side: 'next', look: 'after', at: place + 1 },
  ] as const;
  const names = new Map(sheet.mouths.map((mouth) => [mouth.key, mouth.name]));
  return (
    <ul className="either-side" aria-label="Either side of the playhead">
      {cards.map(({ side, look, at }) => {
        const one = sheet.run[at];
        if (!one) return <li key={side} className={`side-mouth is-${side} is-none`} />;
        const end = one.frame + one.length - 1 + FIRST_FRAME;
        const start = one.frame + FIRST_FRAME;
        const frames =
          side === 'before' ? `to ${end}` : side === 'now' ? `${start} to ${end}` : `from ${start}`;
        return (
          <li key={side}>
            <button
              type="button"
              className={`side-mouth is-${side}`}
              aria-label={`${side}: ${names.get(one.mouth)}, ${frames}`}
              onClick={() => goTo(one.frame)}
            >
              <span className="line">
                <b>{side}</b>
                <span>{names.get(one.mouth)}</span>
              </span>
              <MouthImage picture={room.pictures.get(one.mouth)} look={look} />
              <span className="number">{frames}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

interface ImageProps {
  readonly picture: MouthPicture | undefined;
  readonly look?: keyof MouthPicture;
}

/** A mouth as a picture; what it is is said beside it. */
export function MouthImage({ picture, look = 'ink' }: ImageProps) {
  return picture ? <img src={picture[look]} alt="" className="mouth-image" /> : null;
}
