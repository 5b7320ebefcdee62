import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Clip } from '../../api/clips';
import type { FrameStore } from '../../player/frameStore';
import type { Player } from '../../player/player';
import { costumeQuery } from '../../stage/Filmstrip';
import { poseHand } from '../../stage/poseHand';
import type { StageScene, StageView } from '../../stage/scene';
import { useHeldAxis } from '../../stage/useHeldAxis';
import type { BenchMemory } from './benchMemory';
import { keyFrames } from './sheet';
import type { usePose } from './usePose';

/** The one figure of the bench's stage. */
export const FIGURE = 'figure';
const MOST_ARCS = 4;

interface StageOptions {
  readonly clip: Clip;
  readonly memory: BenchMemory;
  readonly joints: readonly string[];
  readonly player: Player;
  readonly frames: FrameStore;
  readonly pose: ReturnType<typeof usePose>;
  readonly underlay: NonNullable<StageScene['underlay']>;
  readonly onPick: (joint: string, adding: boolean) => void;
}

/** What stands on the bench's stage, how it is seen, and the hand that poses it. */
export function useBenchStage(options: StageOptions) {
  const { clip, memory, joints, player, frames, pose, underlay, onPick } = options;
  const { bench } = clip;
  const { inPlace } = memory;
  const costume = useQuery(costumeQuery(bench.figure));
  const scene = useMemo((): StageScene => {
    const goesRound = bench.is_cycle && (inPlace || !bench.travels);
    const names = new Map(bench.poses.map((named) => [named.frame, named.name]));
    const standsAt = { mark: [0, 0, 0], plants: [], starts: [] } as const;
    return {
      figures: costume.data
        ? [{ id: FIGURE, name: bench.figure_name, costume: costume.data, ...standsAt }]
        : [],
      pose: (_figure, frame) => pose.shown(frame) ?? frames.pose(FIGURE, frame),
      length: bench.length_frames,
      firstFrame: 0,
      backdrop: 'paper',
      keyFrames: keyFrames(bench),
      goesRound,
      poseName: (frame) => names.get(frame) ?? '',
      underlay,
    };
  }, [bench, inPlace, costume.data, frames, pose.shown, underlay]);
  const view = useMemo((): StageView => {
    const places = joints.map((name) => bench.joints.findIndex((joint) => joint.name === name));
    const arcs = places.slice(0, MOST_ARCS).map((joint) => ({ figure: FIGURE, joint }));
    return { ...memory.view, watched: FIGURE, arcs: { ...memory.view.arcs, joints: arcs } };
  }, [memory.view, joints, bench.joints]);
  const axis = useHeldAxis();
  const hand = useMemo(
    () =>
      poseHand({
        body: bench.joints,
        scene,
        figure: FIGURE,
        joints,
        shown: memory.joints,
        mayChange: clip.may_change,
        heldAxis: () => axis.current,
        onPick,
        onDraw: (frame, changed, done) => {
          player.pause();
          pose.draw(frame, changed, done);
        },
        onCancel: pose.cancelDraw,
      }),
    [bench.joints, scene, joints, memory.joints, clip.may_change, axis, onPick, player, pose],
  );
  return { scene, view, hand };
}
