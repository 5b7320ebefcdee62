import { useEffect, useMemo, useState } from 'react';
import { sceneSound } from '../../../api/sounds';
import { useNotices } from '../../../app/notices';
import { useRemembered } from '../../../app/remembered';
import type { Player } from '../../../player/player';
import { type Heard, SoundTrack } from '../../../player/sound/soundTrack';
import type { Scene } from '../useScene';

/** What is heard of a scene’s revision, in step with the player. */
export function useSceneSound(scene: Scene, player: Player): SoundTrack {
  const notices = useNotices();
  const [isOn, setIsOn] = useRemembered('hours/sound', true);
  const [track] = useState(() => new SoundTrack(player, notices.trouble));
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
  useEffect(() => track.setHeard(heard), [track, heard]);
  useEffect(() => {
    track.open();
    return () => track.close();
  }, [track]);
  useEffect(() => track.setOn(isOn), [track, isOn]);
  useEffect(() => track.subscribe(() => setIsOn(track.snapshot().isOn)), [track, setIsOn]);
  return track;
}
