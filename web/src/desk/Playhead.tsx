import { useEffect, useRef } from 'react';
import type { LaidHead } from '../player/laidHead';
import type { Player } from '../player/player';
import { LABEL_WIDTH, type Scale, xOf } from './scale';

interface PlayheadProps {
  readonly player: Player;
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly digits?: number;
  /** The playhead by the laid ruler, where there is one beside the played one. */
  readonly head?: LaidHead;
  /** The strands are unfolded: the flag stands on the played ruler, and bends to the laid one. */
  readonly bends?: boolean;
}

/** The pointed amber flag. It is moved by hand, not by React. */
export function Playhead(props: PlayheadProps) {
  const { player, scale, firstFrame, digits = 3, head, bends = false } = props;
  const flag = useRef<HTMLDivElement>(null);
  const number = useRef<SVGTextElement>(null);
  const line = useRef<HTMLElement>(null);
  useEffect(() => {
    const move = (frame: number) => {
      if (!flag.current || !number.current || !line.current) return;
      const laid = xOf(scale, (head?.laidAt(frame) ?? frame) + 0.5);
      const x = bends ? xOf(scale, frame + 0.5) : laid;
      line.current.style.transform = `translateX(${laid - x}px)`;
      flag.current.style.transform = `translateX(${x}px)`;
      flag.current.style.visibility = x < LABEL_WIDTH || x > scale.width ? 'hidden' : 'visible';
      number.current.textContent = String(frame + firstFrame).padStart(digits, '0');
    };
    move(player.frame);
    return player.onFrame(move);
  }, [player, head, bends, scale, firstFrame, digits]);
  return (
    <div className="playhead" ref={flag} aria-hidden="true">
      <svg viewBox="0 0 34 21" aria-hidden="true">
        <path d="M1 .5H33V14L17 20.5 1 14Z" fill="var(--lamp)" stroke="var(--lamp-edge)" />
        <text ref={number} x="17" y="12" textAnchor="middle" />
      </svg>
      <i ref={line} className={bends ? 'is-bent' : ''} />
    </div>
  );
}
