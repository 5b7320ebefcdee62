import { type PointerEvent, useCallback, useEffect, useRef } from 'react';
import { type Draw, startDraw } from '../app/drawing';
import type { FrameStore } from '../player/frameStore';
import type { Player } from '../player/player';
import { jointUnder } from './arcs';
import { type Camera, type Orbit, orbitOf } from './camera';
import { groundUnder } from './ground';
import { drawnMark, type MarkHit, markUnder } from './marks';
import type { ArcOf, Mark, StageScene, StageView } from './scene';
import { sharp } from './sharp';
import { isPlan, paintStage, seenFrom, targetAt } from './stagePainter';
import { add, scale, type Vec3 } from './vector';

/** What the hand does on the picture beside looking round: a room's own way of taking hold. */
export interface StageHand {
  /** What a press takes hold of; none lets the view be looked round. */
  readonly grab: (
    camera: Camera,
    frame: number,
    x: number,
    y: number,
    event: PointerEvent,
  ) => Draw | null;
  /** What is drawn over the figures. */
  readonly paint: (context: CanvasRenderingContext2D, camera: Camera, frame: number) => void;
}

interface Props {
  readonly scene: StageScene;
  readonly view: StageView;
  readonly player: Player;
  /** Who tells that there are new frames to paint. */
  readonly frames: Pick<FrameStore, 'onFrames'>;
  readonly mayChange: boolean;
  readonly onOrbit: (orbit: Orbit) => void;
  /** The view is shifted: it stays there and follows no longer. */
  readonly onShift: (target: Vec3) => void;
  readonly onPick: (joint: ArcOf) => void;
  /** A mark is drawn; with `done` it is let go there. */
  readonly onMark?: (figure: string, mark: Mark | null, done: boolean) => void;
  readonly hand?: StageHand;
}

const DEGREES_PER_PIXEL = 0.35;
const KEY_DEGREES = 5;
const KEY_METRES = 0.2;
const [NEAREST, FARTHEST] = [1.2, 60];

/** The picture. It paints straight from frame packs, outside React's rendering. */
export function Stage(props: Props) {
  const { scene, view, player, frames, onOrbit } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const latest = useRef(props);
  latest.current = props;

  const paint = useCallback(() => {
    const element = canvas.current;
    const drawn = sharp(element, { alpha: false });
    if (!element || !drawn) return;
    const { context, width, height } = drawn;
    const { scene: painted, view: seen, hand } = latest.current;
    const { range, playing } = player.snapshot();
    paintStage(context, width, height, painted, seen, player.frame, range, playing);
    if (hand && !playing) {
      const { camera } = seenFrom(painted, seen, player.frame, width, height);
      hand.paint(context, camera, player.frame);
    }
    element.dataset.frame = String(player.frame);
    const standing = painted.figures.filter(({ id }) => painted.pose(id, player.frame));
    element.dataset.figures = String(standing.length);
  }, [player]);

  useEffect(() => player.onFrame(paint), [player, paint]);
  useEffect(() => player.subscribe(paint), [player, paint]);
  useEffect(() => frames.onFrames(paint), [frames, paint]);
  // Pictures of layers and of cut-outs are painted when they come.
  const { layers, figures } = scene;
  useEffect(() => {
    const stores = new Set(layers?.map(({ pictures }) => pictures));
    for (const { costume } of figures) if (costume.pictures) stores.add(costume.pictures);
    const offs = [...stores].map((store) => store.onCame(paint));
    return () => {
      for (const off of offs) off();
    };
  }, [layers, figures, paint]);
  // Another view or another scene is painted at once; nothing else that React renders is.
  // biome-ignore lint/correctness/useExhaustiveDependencies: paint reads them where they are kept
  useEffect(paint, [paint, scene, view, props.hand]);
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
      latest.current.onOrbit({
        ...orbit,
        distance: Math.max(NEAREST, Math.min(FARTHEST, distance)),
      });
    };
    element.addEventListener('wheel', zoom, { passive: false });
    return () => element.removeEventListener('wheel', zoom);
  }, []);

  const turn = (from: Orbit, yaw: number, pitch: number) =>
    onOrbit({
      ...from,
      yaw: from.yaw + yaw,
      pitch: Math.max(-4, Math.min(89.9, from.pitch + pitch)),
    });

  const cameraNow = () => {
    const at = canvas.current?.getBoundingClientRect();
    if (!at) return null;
    const { camera, target, lens } = seenFrom(scene, view, player.frame, at.width, at.height);
    return { camera, target, at, orbit: lens ? orbitOf(lens) : view.orbit, isThrough: !!lens };
  };

  const press = (event: PointerEvent<HTMLCanvasElement>) => {
    const now = cameraNow();
    if (!now || event.button === 2) return;
    const { camera, target, at, orbit: from, isThrough } = now;
    const place = (to: { clientX: number; clientY: number }) =>
      [to.clientX - at.left, to.clientY - at.top] as const;
    // What is chosen comes before the marks that lie under it.
    const held =
      event.button === 0 && props.hand?.grab(camera, player.frame, ...place(event), event);
    if (held) {
      startDraw(event.clientX, event.clientY, held);
      return;
    }
    const hit =
      props.onMark && !isThrough && isPlan(view.orbit) && markUnder(camera, scene, ...place(event));
    if (hit && props.mayChange) {
      drawMark(event, hit, (to) => groundUnder(camera, ...place(to)));
      return;
    }
    const shifting = event.shiftKey || event.button === 1;
    const metres = from.distance / camera.focal;
    startDraw(event.clientX, event.clientY, {
      onMove: (dx, dy) => {
        // Whoever looks round steps away from the scene’s camera, and stands where it stood.
        if (isThrough) latest.current.onShift(target);
        if (!shifting) turn(from, -dx * DEGREES_PER_PIXEL, dy * DEGREES_PER_PIXEL);
        else latest.current.onShift(shifted(camera, target, dx * metres, dy * metres));
      },
      onDrop: () => {},
      onPress: () => {
        const joint = jointUnder(camera, scene, player.frame, ...place(event));
        if (joint) props.onPick(joint);
      },
      onCancel: () => onOrbit(from),
    });
  };

  const drawMark = (
    event: PointerEvent,
    hit: MarkHit,
    groundAt: (to: { clientX: number; clientY: number }) => Vec3 | null,
  ) => {
    const mark = scene.figures.find((figure) => figure.id === hit.figure)?.mark;
    if (!mark) return;
    const show = (to: globalThis.PointerEvent, done: boolean) => {
      const ground = groundAt(to);
      if (ground) latest.current.onMark?.(hit.figure, drawnMark(mark, hit.grip, ground), done);
    };
    startDraw(event.clientX, event.clientY, {
      onMove: (_dx, _dy, moved) => show(moved, false),
      onDrop: (_dx, _dy, dropped) => show(dropped, true),
      onCancel: () => latest.current.onMark?.(hit.figure, null, false),
    });
  };

  return (
    <canvas
      ref={canvas}
      className="stage-canvas"
      role="img"
      tabIndex={0}
      aria-label={`The stage: ${scene.figures.map((figure) => figure.name).join(', ') || 'no figures'}. Draw, or use the arrow keys with Alt, to look round; with Shift to shift the view; the wheel moves nearer.`}
      onPointerDown={press}
      onKeyDown={(event) => {
        const arrow = ARROWS[event.key];
        if (!event.altKey || !arrow) return;
        event.preventDefault();
        event.stopPropagation();
        const [x, y] = arrow;
        const now = cameraNow();
        if (now?.isThrough) props.onShift(now.target);
        if (!event.shiftKey) turn(now?.orbit ?? view.orbit, -x * KEY_DEGREES, y * KEY_DEGREES);
        else if (now)
          props.onShift(shifted(now.camera, now.target, -x * KEY_METRES, y * KEY_METRES));
      }}
    />
  );
}

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** The target moved so that the picture goes with the hand. */
function shifted(camera: Camera, target: Vec3, dx: number, dy: number): Vec3 {
  return add(target, add(scale(camera.right, -dx), scale(camera.up, dy)));
}

/** Where the camera looks now, to stay there when following ends. */
export function currentTarget(scene: StageScene, view: StageView, player: Player) {
  return targetAt(scene, view, player.frame);
}
