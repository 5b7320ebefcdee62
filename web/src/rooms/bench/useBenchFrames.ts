import { useEffect } from 'react';
import { type Clip, clipPoses } from '../../api/clips';
import { usePlayback } from '../document/usePlayback';
import type { BenchState } from './useBench';

interface FramesOptions {
  readonly clip: Clip;
  readonly state: BenchState;
  /** The earlier revision that is looked at. */
  readonly looked: number | null;
  readonly inPlace: boolean;
}

/** The clip's frames, played: as it stands, as a drag would make it, or as it was. */
export function useBenchFrames({ clip, state, looked, inPlace }: FramesOptions) {
  const { bench } = clip;
  const { player, frames } = usePlayback({
    id: clip.id,
    length: bench.length_frames,
    framesPerSecond: bench.frames_per_second,
    onMovedOn: state.refresh,
  });
  useEffect(() => {
    const edit = looked === null ? (state.preview?.edit ?? null) : null;
    frames.lookAt(player.frame);
    frames.show(
      `${clip.content} ${inPlace}`,
      bench.length_frames,
      (start, end) => clipPoses(clip.id, { start, end, in_place: inPlace, edit, revision: looked }),
      edit !== null,
      clip.content,
    );
  }, [frames, player, clip.id, clip.content, bench.length_frames, state.preview, looked, inPlace]);
  return { player, frames };
}
