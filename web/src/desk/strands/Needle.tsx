import { useEffect, useRef } from 'react';
import type { LaidHead } from '../../player/laidHead';
import { thread } from './picture';

interface NeedleProps {
  readonly head: LaidHead;
  /** The scene’s upper ruler shows played frames, a stint’s laid ones. */
  readonly onScene: boolean;
  readonly place: (
    moment: number,
  ) => { readonly x: number; readonly to: number; readonly said: string } | null;
  readonly top: number;
  readonly bend: number;
  readonly bottom: number;
}

/** The playhead through the strands: it bends to the source frame that plays. Moved by hand, not by React. */
export function Needle({ head, onScene, place, top, bend, bottom }: NeedleProps) {
  const line = useRef<SVGPathElement>(null);
  const flag = useRef<SVGGElement>(null);
  const text = useRef<SVGTextElement>(null);
  const latest = useRef({ head, onScene, place, top, bend, bottom });
  latest.current = { head, onScene, place, top, bend, bottom };
  const move = useRef((played: number) => {
    const now = latest.current;
    const at = now.place(now.onScene ? played : now.head.laidAt(played));
    if (!line.current || !flag.current || !text.current) return;
    flag.current.style.visibility = at ? 'visible' : 'hidden';
    line.current.style.visibility = at ? 'visible' : 'hidden';
    if (!at) return;
    line.current.setAttribute(
      'd',
      `M${at.x} ${now.top}V${now.bend}${thread(at.x, now.bend, at.to, now.bottom).replace('M', 'L')}`,
    );
    flag.current.setAttribute('transform', `translate(${at.to} ${now.bottom})`);
    text.current.textContent = at.said;
  });
  useEffect(() => head.onFrame(move.current), [head]);
  useEffect(() => move.current(head.played));
  return (
    <g className="needle">
      <path ref={line} />
      <g ref={flag}>
        <rect x="-17" y="1" width="34" height="14" rx="2" />
        <text ref={text} y="12" textAnchor="middle" />
      </g>
    </g>
  );
}
