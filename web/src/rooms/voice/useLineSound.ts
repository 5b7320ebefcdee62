import { useMemo } from 'react';
import type { LineSheet } from '../../api/lines';
import { soundPiece } from '../../api/sounds';
import type { Player } from '../../player/player';
import type { Heard, SoundTrack } from '../../player/sound/soundTrack';
import { useSoundTrack } from '../document/useSoundTrack';

/** What is heard of a line, in step with the player; slower it keeps its pitch. */
export function useLineSound(sheet: LineSheet, player: Player): SoundTrack {
  const { sound, seconds, fps } = sheet;
  const heard = useMemo<Heard>(
    () => ({
      name: sound,
      seconds,
      framesPerSecond: fps,
      keepsPitch: true,
      load: (piece, pace) => soundPiece(sound, piece, pace),
    }),
    [sound, seconds, fps],
  );
  return useSoundTrack(player, heard);
}
