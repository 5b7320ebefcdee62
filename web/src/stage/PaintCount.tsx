import { useEffect, useState } from 'react';
import type { Player } from '../player/player';

const TWICE_A_SECOND = 500;

/** How play keeps up: frames painted and dropped since it began. */
export function PaintCount({ player }: { player: Player }) {
  const [count, setCount] = useState(() => player.paintCount());
  useEffect(() => {
    const timer = setInterval(() => {
      if (player.snapshot().playing) setCount(player.paintCount());
    }, TWICE_A_SECOND);
    return () => clearInterval(timer);
  }, [player]);
  const perSecond = count.seconds > 0.5 ? count.painted / count.seconds : 0;
  return (
    <p className="paint-count number" data-testid="paint-count">
      painted {count.painted}, dropped {count.dropped}
      {count.waited > 0 && `, waited ${count.waited}`}
      {perSecond > 0 && `, ${perSecond.toFixed(1)} a second`}
    </p>
  );
}
