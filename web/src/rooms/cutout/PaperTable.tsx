import { type PointerEvent, useEffect, useRef, useState } from 'react';
import type { PartShown } from '../../api/cutOuts';
import { pictureShown } from '../../api/drawings';
import { partTransform, pictureTransform, viewBox } from './placing';
import type { CutOutParts } from './room';

type Place = readonly [number, number];

/** A brad, and the square at a tip, in heights of the sheet. */
const BRAD = 0.011;
const REACH = 0.022;

const EDGE_PIXELS = 12;

interface Drag {
  readonly part: string;
  readonly kind: 'move_pivot' | 'move_tip';
  readonly from: Place;
  readonly to: Place;
}

/** The paper on the table: all parts as they lie over each other, held together by brads that can be drawn. */
export function PaperTable({ room }: { readonly room: CutOutParts }) {
  const { view, sheet, player, chosen, onChoose, onEdit, onPreview } = room;
  const paper = useRef<SVGSVGElement>(null);
  const groups = useRef(new Map<string, SVGGElement>());
  const [drag, setDrag] = useState<Drag | null>(null);
  const placed = new Map(sheet.placed.map((one) => [one.number, one]));
  useEffect(() => {
    const show = (frame: number) => {
      sheet.parts.forEach(({ part }, place) => {
        const lies = frame > 0 ? sheet.swing[frame]?.[place] : undefined;
        for (const layer of ['paper', 'brad'])
          groups.current
            .get(`${layer} ${part.name}`)
            ?.setAttribute('transform', partTransform(lies));
      });
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, sheet]);
  const hold = (key: string) => (group: SVGGElement | null) => {
    if (group) groups.current.set(key, group);
    else groups.current.delete(key);
  };
  /** Where a pointer is, on the sheet; past the table’s edge, at its edge: nothing is drawn out of sight. */
  const placeOf = (event: PointerEvent): Place | null => {
    const matrix = paper.current?.getScreenCTM();
    const table = paper.current?.getBoundingClientRect();
    if (!matrix || !table) return null;
    const x = Math.min(
      Math.max(event.clientX, table.left + EDGE_PIXELS),
      table.right - EDGE_PIXELS,
    );
    const y = Math.min(
      Math.max(event.clientY, table.top + EDGE_PIXELS),
      table.bottom - EDGE_PIXELS,
    );
    const at = new DOMPoint(x, y).matrixTransform(matrix.inverse());
    return [+at.x.toFixed(5), +(-at.y).toFixed(5)];
  };
  const begin = (event: PointerEvent, { part }: PartShown, kind: Drag['kind']) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    onChoose(part.name);
    if (!view.may_change) return;
    // Pivots are set on the paper at rest.
    player.pause();
    player.goTo(0);
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = (kind === 'move_tip' ? part.tip : part.pivot) ?? [0, 0];
    setDrag({ part: part.name, kind, from, to: from });
  };
  const move = (event: PointerEvent) => {
    const to = drag && placeOf(event);
    if (!drag || !to) return;
    setDrag({ ...drag, to });
    onPreview({ kind: drag.kind, part: drag.part, to: [...to] });
  };
  const end = (isKept: boolean) => {
    if (!drag) return;
    setDrag(null);
    onPreview(null);
    if (isKept && hasMoved(drag.from, drag.to))
      onEdit({ kind: drag.kind, part: drag.part, to: [...drag.to] });
  };
  const pivotOf = (name: string): Place | undefined =>
    drag?.part === name && drag.kind === 'move_pivot'
      ? drag.to
      : (sheet.parts.find((one) => one.part.name === name)?.part.pivot ?? undefined);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: parts are chosen by keys in their list
    // biome-ignore lint/a11y/useSemanticElements: drawn in SVG, with a group's role
    <svg
      ref={paper}
      className="paper-table"
      viewBox={viewBox(sheet.reach)}
      role="group"
      aria-label={`${view.name} on the table`}
      onClick={() => onChoose(null)}
      onPointerMove={move}
      onPointerUp={() => end(true)}
      onPointerCancel={() => end(false)}
    >
      <title>{view.name}</title>
      <line className="ground" x1={-5} x2={5} y1={0} y2={0} />
      {sheet.parts.map(({ part }) => {
        const shown = placed.get(part.drawings[0]);
        const file = view.pictures[String(part.drawings[0])]?.file;
        return (
          <g
            key={part.name}
            ref={hold(`paper ${part.name}`)}
            className={chosen && chosen !== part.name ? 'is-faint' : ''}
          >
            {shown && file && (
              <image
                href={pictureShown(view.production, file, 'shown')}
                width={1}
                height={1}
                preserveAspectRatio="none"
                transform={pictureTransform(shown)}
              />
            )}
          </g>
        );
      })}
      {sheet.parts.map((one) => {
        const { part } = one;
        const [x, y] = pivotOf(part.name) ?? [0, 0];
        const above = part.parent ? pivotOf(part.parent) : undefined;
        const tip =
          drag?.part === part.name && drag.kind === 'move_tip' ? drag.to : (part.tip ?? null);
        const isChosen = chosen === part.name;
        return (
          <g key={part.name} ref={hold(`brad ${part.name}`)} className="brad-of">
            {isChosen && above && (
              <line className="hangs" x1={x} y1={-y} x2={above[0]} y2={-above[1]} />
            )}
            {/* biome-ignore lint/a11y/useSemanticElements: a brad drawn in SVG, with a button's role */}
            <g
              className={`brad ${isChosen ? 'is-chosen' : ''} ${part.parent ? '' : 'carries'}`}
              role="button"
              tabIndex={0}
              aria-label={`Pivot of ${part.name}`}
              aria-pressed={isChosen}
              onFocus={() => onChoose(part.name)}
              onPointerDown={(event) => begin(event, one, 'move_pivot')}
              onClick={(event) => event.stopPropagation()}
            >
              <title>
                {part.parent
                  ? `${part.name}, on ${part.parent}`
                  : `${part.name} carries the figure`}
              </title>
              <circle className="reach" cx={x} cy={-y} r={REACH} />
              <circle className="head" cx={x} cy={-y} r={BRAD} />
              <circle className="slot" cx={x} cy={-y} r={BRAD / 3} />
            </g>
            {isChosen && tip && (
              // biome-ignore lint/a11y/useSemanticElements: drawn in SVG, with a button's role
              <rect
                className="tip"
                role="button"
                tabIndex={-1}
                aria-label={`Tip of ${part.name}`}
                x={tip[0] - BRAD}
                y={-tip[1] - BRAD}
                width={2 * BRAD}
                height={2 * BRAD}
                onPointerDown={(event) => begin(event, one, 'move_tip')}
                onClick={(event) => event.stopPropagation()}
              >
                <title>Where {part.name} ends</title>
              </rect>
            )}
          </g>
        );
      })}
    </svg>
  );
}

const MOVED = 0.0005;
const hasMoved = (from: Place, to: Place): boolean =>
  Math.hypot(to[0] - from[0], to[1] - from[1]) > MOVED;
