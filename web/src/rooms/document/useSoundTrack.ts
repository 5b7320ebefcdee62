import { useEffect, useState } from 'react';
import { useNotices } from '../../app/notices';
import { useRemembered } from '../../app/remembered';
import type { Player } from '../../player/player';
import { type Heard, SoundTrack } from '../../player/sound/soundTrack';

/** What is heard, in step with a player; whether sound is on is remembered for all rooms. */
export function useSoundTrack(player: Player, heard: Heard | null): SoundTrack {
  const notices = useNotices();
  const [isOn, setIsOn] = useRemembered('hours/sound', true);
  const [track] = useState(() => new SoundTrack(player, notices.trouble));
  useEffect(() => track.setHeard(heard), [track, heard]);
  useEffect(() => {
    track.open();
    return () => track.close();
  }, [track]);
  useEffect(() => track.setOn(isOn), [track, isOn]);
  useEffect(() => track.subscribe(() => setIsOn(track.snapshot().isOn)), [track, setIsOn]);
  return track;
}
