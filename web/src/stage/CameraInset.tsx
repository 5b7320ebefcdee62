import { useEffect, useRef } from 'react';
import type { FrameStore } from '../player/frameStore';
import type { Player } from '../player/player';
import type { StageScene, StageView } from './scene';
import { sharp } from './sharp';
import { paintStage } from './stagePainter';

interface Props {
  readonly scene: StageScene;
  readonly view: StageView;
  readonly player: Player;
  readonly frames: FrameStore;
  readonly said: string;
}

/** What the scene’s camera sees: the picture alone, without ghosts or arcs. */
export function CameraInset({ scene, view, player, frames, said }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const show = () => {
      const drawn = sharp(canvas.current, { alpha: false });
      if (!drawn) return;
      const { context, width, height } = drawn;
      const plain: StageView = {
        ...view,
        through: true,
        plain: true,
        prints: false,
        ghosts: { ...view.ghosts, shown: false },
        arcs: { ...view.arcs, shown: false },
      };
      paintStage(context, width, height, scene, plain, player.frame, null, true);
    };
    show();
    const offs = [frames.onFrames(show), player.onFrame(show)];
    return () => {
      for (const off of offs) off();
    };
  }, [scene, view, player, frames]);
  return (
    <figure className="plan-inset camera-inset">
      <figcaption>
        Camera <span className="quiet">{said}</span>
      </figcaption>
      <canvas ref={canvas} role="img" aria-label="What the scene’s camera sees" />
    </figure>
  );
}
