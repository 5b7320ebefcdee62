import { useMemo } from 'react';
import { sceneSound } from '../../../api/sounds';
import type { Player } from '../../../player/player';
import type { Heard, SoundTrack } from '../../../player/sound/soundTrack';
import { useSoundTrack } from '../../document/useSoundTrack';
import type { Scene } from '../useScene';

/** What is heard of a scene’s revision, in step with the player. */
export function useSceneSound(scene: Scene, player: Player): SoundTrack {
  const { id, revision } = scene;
  const { heard: name, played_frames, frames_per_second } = scene.desk;
  // biome-ignore lint/correctness/useExhaustiveDependencies: of all revisions that sound alike the first will do
  const heard = useMemo<Heard | null>(
    () =>
      name === null
        ? null
        : {
            name,
            seconds: played_frames / frames_per_second,
            framesPerSecond: frames_per_second,
            load: (piece) => sceneSound(id, { heard: name, piece, revision }),
          },
    [id, name],
  );
  return useSoundTrack(player, heard);
}
