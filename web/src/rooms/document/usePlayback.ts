import { useEffect, useRef, useState } from 'react';
import { useNotices } from '../../app/notices';
import { FrameStore } from '../../player/frameStore';
import { Player } from '../../player/player';
import { restorePlayer, useKeptPlayer } from './keptPlayer';

interface PlaybackOptions {
  readonly id: string;
  readonly length: number;
  readonly framesPerSecond: number;
  /** Frames have come of what no longer stands: read what does. */
  readonly onMovedOn: () => Promise<unknown>;
  readonly onFrame?: (frame: number) => void;
  /** Whether a frame can be shown, where that does not hang on frames from the server. */
  readonly isReady?: (frame: number) => boolean;
}

/** A document's player and its frames; it stands where it was left. */
export function usePlayback(options: PlaybackOptions) {
  const { id, length, framesPerSecond, onMovedOn } = options;
  const notices = useNotices();
  const heard = useRef(options.onFrame);
  heard.current = options.onFrame;
  const [frames] = useState(() => new FrameStore(notices.trouble, onMovedOn));
  const [player] = useState(() => {
    const made = new Player(options.isReady ?? ((frame) => frames.isReady(frame)));
    made.setScene(length, framesPerSecond);
    restorePlayer(made, id);
    return made;
  });
  useKeptPlayer(player, id);
  useEffect(() => () => player.pause(), [player]);
  useEffect(
    () =>
      player.onFrame((frame) => {
        frames.lookAt(frame);
        heard.current?.(frame);
      }),
    [player, frames],
  );
  useEffect(() => player.setScene(length, framesPerSecond), [player, length, framesPerSecond]);
  return { player, frames };
}
