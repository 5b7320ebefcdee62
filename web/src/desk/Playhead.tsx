import { useEffect, useRef } from 'react';
import type { Player } from '../player/player';
import { LABEL_WIDTH, type Scale, xOf } from './scale';

interface PlayheadProps {
  readonly player: Player;
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly digits?: number;
}

/** The pointed amber flag. It is moved by hand, not by React. */
export function Playhead({ player, scale, firstFrame, digits = 3 }: PlayheadProps) {
  const flag = useRef<HTMLDivElement>(null);
  const number = useRef<SVGTextElement>(null);
  useEffect(() => {
    const move = (frame: number) => {
      if (!flag.current || !number.current) return;
      const x = xOf(scale, frame + 0.5);
      flag.current.style.transform = `translateX(${x}px)`;
      flag.current.style.visibility = x < LABEL_WIDTH || x > scale.width ? 'hidden' : 'visible';
      number.current.textContent = String(frame + firstFrame).padStart(digits, '0');
    };
    move(player.frame);
    return player.onFrame(move);
  }, [player, scale, firstFrame, digits]);
  return (
    <div className="playhead" ref={flag} aria-hidden="true">
      <svg viewBox="0 0 34 21" aria-hidden="true">
        <path d="M1 .5H33V14L17 20.5 1 14Z" fill="var(--lamp)" stroke="var(--lamp-edge)" />
        <text ref={number} x="17" y="12" textAnchor="middle" />
      </svg>
      <i />
    </div>
  );
}
