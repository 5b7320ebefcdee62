import { useEffect, useRef } from 'react';
import type { LaidHead } from '../player/laidHead';
import { LABEL_WIDTH, type Scale, xOf } from './scale';

interface MarkProps {
  readonly head: LaidHead;
  readonly scale: Scale;
  readonly firstFrame: number;
}

/** Where the playhead stands on a lane that keeps its own time: by the played ruler. */
export function OwnTimeMark({ head, scale, firstFrame }: MarkProps) {
  const mark = useRef<HTMLDivElement>(null);
  const number = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const move = (frame: number) => {
      if (!mark.current || !number.current) return;
      const x = xOf(scale, frame + 0.5);
      mark.current.style.transform = `translateX(${x}px)`;
      mark.current.style.visibility = x < LABEL_WIDTH || x > scale.width ? 'hidden' : 'visible';
      number.current.textContent = String(frame + firstFrame);
    };
    move(head.played);
    return head.onFrame(move);
  }, [head, scale, firstFrame]);
  return (
    <div className="own-time-mark" ref={mark} aria-hidden="true">
      <span ref={number} />
    </div>
  );
}
