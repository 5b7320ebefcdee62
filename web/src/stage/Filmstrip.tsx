import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { answered, api, clipFrames, figureFrames } from '../api/client';
import { type FramePack, poseIn } from '../api/framePack';
import { orbitCamera } from './camera';
import { type Costume, type Figure, makeCostume } from './costume';
import { paintFigure } from './paint';

const FRAMES_IN_STRIP = 5;

/** A figure's dress, ready to be painted; it is fetched once. */
export const costumeQuery = (figure: string) => ({
  queryKey: ['costume', figure],
  queryFn: async (): Promise<Costume> =>
    makeCostume(
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
  readonly label: string;
}

/** A clip as a row of small inked poses, evenly spaced over one round. */
export function Filmstrip({ clip, figure, label }: StripProps) {
  const costume = useQuery(costumeQuery(figure));
  const pack = useQuery({
    queryKey: ['strip', clip],
    queryFn: () => clipFrames(clip, FRAMES_IN_STRIP),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <PoseCanvas
      costume={costume.data}
      pack={pack.data}
      count={FRAMES_IN_STRIP}
      label={label}
      className="filmstrip"
    />
  );
}

/** A figure in its rest pose. */
export function FigurePicture({ figure, label }: { figure: string; label: string }) {
  const costume = useQuery(costumeQuery(figure));
  const pack = useQuery({
    queryKey: ['rest', figure],
    queryFn: () => figureFrames(figure),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <PoseCanvas
      costume={costume.data}
      pack={pack.data}
      count={1}
      label={label}
      className="figure-picture"
    />
  );
}

interface PoseCanvasProps {
  readonly costume: Costume | undefined;
  readonly pack: FramePack | undefined;
  readonly count: number;
  readonly label: string;
  readonly className: string;
}

function PoseCanvas({ costume, pack, count, label, className }: PoseCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !costume || !pack) return;
    const ratio = window.devicePixelRatio || 1;
    const { clientWidth: width, clientHeight: height } = element;
    element.width = width * ratio;
    element.height = height * ratio;
    context.scale(ratio, ratio);
    paintRow(context, width, height, costume, pack, count);
  }, [costume, pack, count]);
  return <canvas ref={canvas} className={className} role="img" aria-label={label} />;
}

function paintRow(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  costume: Costume,
  pack: FramePack,
  count: number,
): void {
  const poses = Array.from({ length: count }, (_, k) => poseIn(pack, 'figure', k));
  const tallest = Math.max(
    0.4,
    ...poses.flatMap((pose) => (pose ? [reachOf(pose.positions)] : [])),
  );
  const cell = width / count;
  poses.forEach((pose, k) => {
    if (!pose) return;
    context.save();
    context.beginPath();
    context.rect(k * cell, 0, cell, height);
    context.clip();
    context.translate(k * cell, 0);
    const target = [pose.travel[0], tallest * 0.53, pose.travel[1]] as const;
    const heading = (pose.travel[2] * 180) / Math.PI;
    const orbit = { yaw: heading - 62, pitch: 5, distance: tallest * 5.2 };
    paintFigure(context, costume, pose, orbitCamera(orbit, target, cell, height), height / 300);
    context.restore();
  });
}

/** How high a pose reaches, hat and all. */
function reachOf(positions: Float32Array): number {
  let top = 0;
  for (let at = 1; at < positions.length; at += 3) top = Math.max(top, positions[at]);
  return top * 1.2;
}
