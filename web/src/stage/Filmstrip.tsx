import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { answered, api, clipFrames, figureFrames, sceneFrames } from '../api/client';
import { type FramePack, framesIn, type PosedFigure, poseIn } from '../api/framePack';
import { useNear } from '../app/near';
import { orbitCamera } from './camera';
import { SHEET } from './colour';
import { type Costume, type Figure, makeCostume } from './costume';
import { placed } from './layout';
import { paintFigure } from './paint';
import { PictureStore } from './pictureStore';
import { sharp } from './sharp';

const FRAMES_IN_STRIP = 5;

/** A figure in its dress; a cut-out brings its pictures along. */
function dressed(id: string, figure: Figure): Costume {
  const cards = figure.dress?.cards ?? [];
  if (!cards.length) return makeCostume(figure);
  const pictures = new PictureStore((file) => `/api/figures/${id}/pictures/${file}`);
  for (const card of cards) for (const one of card.pictures) pictures.image(one.picture.file);
  return makeCostume(figure, pictures);
}

/** A figure's dress, ready to be painted; it is fetched once. */
export const costumeQuery = (figure: string) => ({
  queryKey: ['costume', figure],
  queryFn: async (): Promise<Costume> =>
    dressed(
      figure,
      // The client widens the tuples of the schema to lists.
      (await answered(
        api.GET('/api/figures/{figure_id}', { params: { path: { figure_id: figure } } }),
      )) as Figure,
    ),
  staleTime: Number.POSITIVE_INFINITY,
});

interface StripProps {
  readonly clip: string;
  readonly figure: string;
  /** When the clip was last changed: another picture then. */
  readonly changed: string;
  readonly label: string;
  /** With its length the clip plays while it is pointed at. */
  readonly seconds?: number;
}

/** A clip as a row of small inked poses, evenly spaced over one round. */
export function Filmstrip({ clip, figure, changed, label, seconds }: StripProps) {
  const [pointed, setPointed] = useState(false);
  const isWanted = pointed && seconds !== undefined;
  const costume = useQuery({ ...costumeQuery(figure), enabled: isWanted });
  const moving = useQuery({
    queryKey: ['moving strip', clip, changed],
    enabled: isWanted,
    queryFn: () => clipFrames(clip, FRAMES_IN_PLAY),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <div
      className="strip"
      onPointerEnter={() => setPointed(true)}
      onPointerLeave={() => setPointed(false)}
    >
      <PoseStrip
        figure={figure}
        named={['strip', clip, changed]}
        poses={() => clipFrames(clip, FRAMES_IN_STRIP)}
        count={FRAMES_IN_STRIP}
        label={label}
      />
      {isWanted && costume.data && moving.data && (
        <MovingPicture costume={costume.data} pack={moving.data} seconds={seconds} />
      )}
    </div>
  );
}

const FRAMES_IN_PLAY = 96;

interface MovingProps {
  readonly costume: Costume;
  readonly pack: FramePack;
  readonly seconds: number;
}

/** The clip playing, over its own strip. */
function MovingPicture({ costume, pack, seconds }: MovingProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const drawn = sharp(canvas.current);
    if (!drawn) return undefined;
    const { context, width, height } = drawn;
    const count = framesIn(pack);
    const began = performance.now();
    let request = 0;
    const paint = (now: number) => {
      const share = ((now - began) / 1000 / seconds) % 1;
      context.fillStyle = SHEET;
      context.fillRect(0, 0, width, height);
      const pose = poseIn(pack, 'figure', Math.min(count - 1, Math.floor(share * count)));
      paintRow(context, width, height, costume, [pose]);
      request = requestAnimationFrame(paint);
    };
    request = requestAnimationFrame(paint);
    return () => cancelAnimationFrame(request);
  }, [costume, pack, seconds]);
  return (
    <canvas
      ref={canvas}
      className="filmstrip is-moving"
      role="img"
      aria-label="The clip, playing"
    />
  );
}

interface SceneStripProps {
  readonly scene: string;
  readonly figure: string;
  /** The figure's id in the scene. */
  readonly member: string;
  readonly length: number;
  /** When it was last changed: another picture then. */
  readonly changed: string;
  readonly label: string;
}

const FRAMES_IN_SCENE_STRIP = 6;

/** A scene's first figure, evenly spaced over the whole scene. */
export function SceneStrip(props: SceneStripProps) {
  const { scene, figure, member, length, changed, label } = props;
  const step = Math.max(1, Math.floor(length / FRAMES_IN_SCENE_STRIP));
  return (
    <PoseStrip
      figure={figure}
      named={['scene strip', scene, length, changed]}
      poses={() => sceneFrames(scene, { start: 0, end: length, step })}
      member={member}
      count={FRAMES_IN_SCENE_STRIP}
      label={label}
    />
  );
}

/** A figure in its rest pose. */
export function FigurePicture({ figure, label }: { figure: string; label: string }) {
  return (
    <PoseStrip
      figure={figure}
      named={['rest', figure]}
      poses={() => figureFrames(figure)}
      count={1}
      label={label}
      className="figure-picture"
    />
  );
}

interface PoseStripProps {
  readonly figure: string;
  /** What the poses are known by; by another name they are asked for anew. */
  readonly named: readonly (string | number)[];
  readonly poses: () => Promise<FramePack>;
  readonly member?: string;
  readonly count: number;
  readonly label: string;
  readonly className?: string;
}

/** Inked poses beside each other, asked for once somebody comes near them. */
export function PoseStrip(props: PoseStripProps) {
  const { figure, named, poses, member = 'figure', count, label, className = 'filmstrip' } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const isNear = useNear(canvas);
  const costume = useQuery({ ...costumeQuery(figure), enabled: isNear }).data;
  const pack = useQuery({
    queryKey: named,
    queryFn: poses,
    enabled: isNear,
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
  useEffect(() => {
    const paint = () => {
      const drawn = costume && pack ? sharp(canvas.current) : null;
      if (!drawn || !costume || !pack) return;
      const { context, width, height } = drawn;
      context.clearRect(0, 0, width, height);
      const row = Array.from({ length: count }, (_, k) => poseIn(pack, member, k));
      paintRow(context, width, height, costume, row);
    };
    paint();
    // A cut-out is painted anew as its pictures come.
    return costume?.pictures?.onCame(paint);
  }, [costume, pack, member, count]);
  return <canvas ref={canvas} className={className} role="img" aria-label={label} />;
}

function paintRow(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  costume: Costume,
  poses: readonly (PosedFigure | null)[],
): void {
  const cell = width / poses.length;
  const frame = framing(poses, costume, cell / height);
  poses.forEach((pose, k) => {
    if (!pose) return;
    context.save();
    context.beginPath();
    context.rect(k * cell, 0, cell, height);
    context.clip();
    context.translate(k * cell, 0);
    const target = [pose.travel[0], frame.middle, pose.travel[1]] as const;
    const heading = (pose.travel[2] * 180) / Math.PI;
    const orbit = { yaw: heading - 62, pitch: 5, distance: frame.distance };
    paintFigure(
      context,
      costume,
      pose,
      orbitCamera(orbit, target, cell, height),
      Math.min(0.8, height / 150),
    );
    context.restore();
  });
}

const LEAST_METRES = 0.4;
/** How much more than its joints a dressed figure fills, hat and all. */
const DRESS = 1.2;

const CORNERS = [
  [0, 0],
  [1, 0],
  [0, 1],
  [1, 1],
] as const;

/** Where to look, and from how far, so that all of these poses fit a picture of this shape. */
function framing(poses: readonly (PosedFigure | null)[], costume: Costume, aspect: number) {
  let [low, high, aside] = [Number.POSITIVE_INFINITY, 0, 0];
  for (const pose of poses) {
    const { positions, travel } = pose ?? { positions: [], travel: [0, 0, 0] };
    const reach = (x: number, y: number, z: number) => {
      low = Math.min(low, y);
      high = Math.max(high, y);
      aside = Math.max(aside, Math.hypot(x - travel[0], z - travel[1]));
    };
    for (let at = 0; at < positions.length; at += 3)
      reach(positions[at], positions[at + 1], positions[at + 2]);
    // Paper reaches beyond its joints.
    for (const { joint, first } of pose ? costume.cards : []) {
      const { corner, across, up } = first;
      for (const [u, v] of CORNERS) {
        const z = corner[0] + u * across[0] + v * up[0];
        const y = corner[1] + u * across[1] + v * up[1];
        if (!pose) continue;
        const [x, high, along] = placed(pose, joint, [0, y, z]);
        reach(x, high, along);
      }
    }
  }
  // What stands on the ground is seen with its feet; what flies is seen where it flies.
  const foot = low < 0.5 ? 0 : low - 0.1;
  const tall = Math.max(LEAST_METRES, (high - foot) * DRESS, (2 * aside) / aspect);
  return { middle: foot + (high - foot) * DRESS * 0.53, distance: tall * 2.35 };
}
