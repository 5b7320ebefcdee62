import { useCallback, useEffect, useRef } from 'react';
import type { FrameStore } from '../player/frameStore';
import type { Player } from '../player/player';
import type { Orbit } from './camera';
import { paintStage, type StageScene, type StageView, targetAt } from './stagePainter';

interface Props {
  readonly scene: StageScene;
  readonly view: StageView;
  readonly player: Player;
  readonly frames: FrameStore;
  readonly onOrbit: (orbit: Orbit) => void;
}

const DEGREES_PER_PIXEL = 0.35;
const KEY_DEGREES = 5;

/** The picture. It paints straight from frame packs, outside React's rendering. */
export function Stage({ scene, view, player, frames, onOrbit }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef({ scene, view });
  latest.current = { scene, view };

  const paint = useCallback(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context) return;
    const ratio = window.devicePixelRatio || 1;
    const { clientWidth: width, clientHeight: height } = element;
    if (element.width !== width * ratio || element.height !== height * ratio) {
      element.width = width * ratio;
      element.height = height * ratio;
    }
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    paintStage(context, width, height, latest.current.scene, latest.current.view, player.frame);
    element.dataset.frame = String(player.frame);
  }, [player]);

  useEffect(() => player.onFrame(paint), [player, paint]);
  useEffect(() => frames.onFrames(paint), [frames, paint]);
  // Whatever React renders anew (another view, another scene) is painted at once.
  useEffect(() => paint());
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(paint);
    observer.observe(element);
    void document.fonts?.ready.then(paint);
    return () => observer.disconnect();
  }, [paint]);

  // React listens to wheels passively, and the page must not zoom along.
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const zoom = (event: WheelEvent) => {
      event.preventDefault();
      const { orbit } = latest.current.view;
      const distance = orbit.distance * 1.0015 ** event.deltaY;
      onOrbit({ ...orbit, distance: Math.max(1.5, Math.min(40, distance)) });
    };
    element.addEventListener('wheel', zoom, { passive: false });
    return () => element.removeEventListener('wheel', zoom);
  }, [onOrbit]);

  const turn = (yaw: number, pitch: number) => {
    const { orbit } = view;
    onOrbit({
      ...orbit,
      yaw: orbit.yaw + yaw,
      pitch: Math.max(-4, Math.min(89.9, orbit.pitch + pitch)),
    });
  };

  return (
    <canvas
      ref={canvas}
      className="stage-canvas"
      role="img"
      tabIndex={0}
      aria-label={`The stage: ${scene.figures.length} figures. Drag or use the arrow keys with Alt to look round; the wheel moves nearer.`}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
        turn(-event.movementX * DEGREES_PER_PIXEL, event.movementY * DEGREES_PER_PIXEL);
      }}
      onKeyDown={(event) => {
        if (!event.altKey) return;
        const arrows: Record<string, [number, number]> = {
          ArrowLeft: [-KEY_DEGREES, 0],
          ArrowRight: [KEY_DEGREES, 0],
          ArrowUp: [0, KEY_DEGREES],
          ArrowDown: [0, -KEY_DEGREES],
        };
        const arrow = arrows[event.key];
        if (!arrow) return;
        event.preventDefault();
        event.stopPropagation();
        turn(...arrow);
      }}
    />
  );
}

/** Where the camera looks now, to stay there when following ends. */
export function currentTarget(scene: StageScene, view: StageView, player: Player) {
  return targetAt(scene, view, player.frame);
}
