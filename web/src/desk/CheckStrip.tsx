import type { Schemas } from '../api/client';
import { type Scale, xOf } from './scale';

export type LaneMark = Schemas['LaneMark'];
export type Checks = ReadonlyMap<string, readonly LaneMark[]>;

export const STRIP_HEIGHT = 7;
const LEAST_WIDTH = 4;

interface CheckStripProps {
  readonly marks: readonly LaneMark[];
  readonly of: string;
  readonly scale: Scale;
  readonly top: number;
  readonly firstFrame: number;
  readonly onGo: (frame: number) => void;
}

/** The frames of a lane at which something is off; empty where it is clean. Pressing a mark goes there. */
export function CheckStrip({ marks, of, scale, top, firstFrame, onGo }: CheckStripProps) {
  const said = marks.length ? `${marks.length} marks` : 'clean';
  return (
    // biome-ignore lint/a11y/noInteractiveElementToNoninteractiveRole: a drawn strip, whose marks are pressed
    // biome-ignore lint/a11y/useSemanticElements: a drawn strip, with a group's role
    <g role="group" aria-label={`Checks of ${of}: ${said}`} data-checks={marks.length}>
      {marks.map((mark) => {
        const x = xOf(scale, mark.frame);
        const width = Math.max(LEAST_WIDTH, xOf(scale, mark.end) - x);
        const text = wordsOf(mark, firstFrame);
        const go = () => onGo(mark.frame);
        return (
          // biome-ignore lint/a11y/useSemanticElements: a drawn mark, with a button's role and keys
          <g
            key={`${mark.kind} ${mark.joint} ${mark.unit} ${mark.frame}`}
            className="check-mark"
            role="button"
            tabIndex={0}
            aria-label={text}
            onPointerDown={(event) => {
              event.stopPropagation();
              if (event.button === 0) go();
            }}
            onKeyDown={(event) => {
              if (event.key !== 'Enter' && event.key !== ' ') return;
              event.preventDefault();
              event.stopPropagation();
              go();
            }}
          >
            <rect x={x} y={top - 1} width={width} height={STRIP_HEIGHT + 1} fill="transparent" />
            <path className={`is-${mark.kind}`} d={SHAPES[mark.kind](x, top, width)} />
            <title>{text}</title>
          </g>
        );
      })}
    </g>
  );
}

type Shape = (x: number, top: number, width: number) => string;

/** Each kind has its own shape: a slide runs along, a jump points up, feet cross, a sole goes under. */
const SHAPES: Readonly<Record<LaneMark['kind'], Shape>> = {
  slide: (x, top, width) => `M${x} ${top + 2}h${width}v3h${-width}z`,
  jump: (x, top, width) => `M${x} ${top + 6}l${width / 2} -6l${width / 2} 6z`,
  crossed: (x, top, width) => `M${x} ${top}l${width} 6h${-width}l${width} -6z`,
  ground: (x, top, width) => `M${x} ${top}l${width / 2} 6l${width / 2} -6z`,
  dropped: (x, top, width) =>
    `M${x} ${top + 1}h${width}v1.5h${-width}zM${x} ${top + 4.5}h${width}v1.5h${-width}z`,
};

const KINDS: Readonly<Record<LaneMark['kind'], string>> = {
  slide: 'Foot slides',
  jump: 'Jump',
  crossed: 'Feet crossed',
  ground: 'Sole under the floor',
  dropped: 'Dropped channels',
};

function wordsOf({ kind, label, amount, unit, frame, end }: LaneMark, firstFrame: number): string {
  if (kind === 'dropped') return `${KINDS[kind]}: ${amount} in all, the first ${label}`;
  const measure = unit === 'degrees' ? `${amount.toFixed(1)}°` : `${amount.toFixed(1)} ${unit}`;
  const frames =
    end - frame > 1 ? `${frame + firstFrame} to ${end - 1 + firstFrame}` : `${frame + firstFrame}`;
  return `${KINDS[kind]}: ${label}, ${measure}, at ${frames}`;
}
