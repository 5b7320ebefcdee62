import { counted } from '../../app/counted';
import { type Scale, xOf } from '../../desk/scale';
import type { TakesRoomParts } from './room';

const HIGH = 14;
const LEAST_PIXELS = 3;

/** Frames that never came from the stage: those that were filled by a curve open, longer gaps solid. */
export function LostRow({ room, scale }: { readonly room: TakesRoomParts; readonly scale: Scale }) {
  const { take, cleaned } = room;
  const { lost } = take.take;
  if (!lost.length || !cleaned) return null;
  const total = lost.reduce((sum, gap) => sum + gap.end - gap.start, 0);
  const { at } = cleaned;
  const shown = lost.flatMap((gap) => {
    const first = at.findIndex((source) => source >= gap.start);
    const after = at.findIndex((source) => source >= gap.end);
    if (first < 0) return [];
    return [{ ...gap, first, after: Math.max(first, after < 0 ? at.length : after) }];
  });
  return (
    <div className="take-row lost-row">
      <span className="row-label">
        Never came <small className="number">{counted(total, 'frame')}</small>
      </span>
      <svg width={scale.width} height={HIGH}>
        <title>Frames that never came</title>
        {shown.map((gap) => {
          const says = `Source ${gap.start} to ${gap.end - 1} never came: ${gap.filled ? 'filled by a curve' : 'straight in-betweens'}`;
          const go = () => room.goTo(gap.first);
          return (
            // biome-ignore lint/a11y/useSemanticElements: a drawn mark, with a button's role and keys
            <g
              key={gap.start}
              role="button"
              tabIndex={0}
              aria-label={says}
              onClick={go}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' && event.key !== ' ') return;
                event.preventDefault();
                event.stopPropagation();
                go();
              }}
            >
              <title>{says}</title>
              <rect
                className={gap.filled ? 'is-filled' : 'is-open'}
                x={xOf(scale, gap.first)}
                y={3}
                width={Math.max(LEAST_PIXELS, (gap.after - gap.first) * scale.pixelsPerFrame)}
                height={HIGH - 6}
              />
            </g>
          );
        })}
      </svg>
    </div>
  );
}
