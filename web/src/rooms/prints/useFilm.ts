import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { PrintCard } from '../../api/prints';
import { momentOf, pictureAt } from './said';

export interface Film {
  readonly over: RefObject<HTMLVideoElement | null>;
  readonly under: RefObject<HTMLVideoElement | null>;
  /** The picture on show, from 0. */
  readonly picture: number;
  readonly isPlaying: boolean;
  readonly goTo: (picture: number) => void;
  readonly play: () => void;
}

/** A film played picture by picture, and another one under it in step. */
export function useFilm(print: PrintCard | null): Film {
  const over = useRef<HTMLVideoElement>(null);
  const under = useRef<HTMLVideoElement>(null);
  const [picture, setPicture] = useState(0);
  const [isPlaying, setPlaying] = useState(false);
  const fps = print?.frames_per_second ?? 24;
  const frames = print?.frames ?? 0;

  useEffect(() => {
    const video = over.current;
    if (!video || !frames) return undefined;
    let asked = 0;
    const step = (_now: number, { mediaTime }: VideoFrameCallbackMetadata) => {
      setPicture(pictureAt(mediaTime, fps, frames));
      follow(video, under.current, fps);
      asked = video.requestVideoFrameCallback(step);
    };
    asked = video.requestVideoFrameCallback(step);
    const state = () => {
      setPlaying(!video.paused);
      if (video.paused) under.current?.pause();
      else void under.current?.play();
    };
    video.addEventListener('play', state);
    video.addEventListener('pause', state);
    return () => {
      video.cancelVideoFrameCallback(asked);
      video.removeEventListener('play', state);
      video.removeEventListener('pause', state);
    };
  }, [fps, frames]);

  const goTo = useCallback(
    (wanted: number) => {
      const at = Math.max(0, Math.min(frames - 1, wanted));
      over.current?.pause();
      for (const video of [over.current, under.current])
        if (video) video.currentTime = momentOf(at, fps);
      setPicture(at);
    },
    [fps, frames],
  );
  const play = useCallback(() => {
    const video = over.current;
    if (!video) return;
    if (video.paused) void video.play();
    else goTo(picture);
  }, [picture, goTo]);
  return { over, under, picture, isPlaying, goTo, play };
}

/** The film underneath shows what the one above does, to half a picture. */
function follow(video: HTMLVideoElement, other: HTMLVideoElement | null, fps: number): void {
  if (other && Math.abs(other.currentTime - video.currentTime) > 0.5 / fps)
    other.currentTime = video.currentTime;
}
