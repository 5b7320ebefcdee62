import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import type { PrintCard } from '../../api/prints';
import { momentOf, pictureAt, picturesIn } from './said';

export interface Film {
  readonly over: RefObject<HTMLVideoElement | null>;
  readonly under: RefObject<HTMLVideoElement | null>;
  /** The picture on show, from 0. */
  readonly picture: number;
  readonly isPlaying: boolean;
  readonly goTo: (picture: number) => void;
  /** So many pictures on, or back. */
  readonly step: (pictures: number) => void;
  readonly play: () => void;
}

/** A film played picture by picture, and another one under it in step. */
export function useFilm(print: PrintCard | null): Film {
  const over = useRef<HTMLVideoElement>(null);
  const under = useRef<HTMLVideoElement>(null);
  const [picture, setPicture] = useState(0);
  // A hand is faster than a film that looks for its pictures: where it is going counts.
  const at = useRef(0);
  const [isPlaying, setPlaying] = useState(false);
  const fps = print?.frames_per_second ?? 24;
  const frames = print ? picturesIn(print) : 0;
  const id = print?.id;

  // biome-ignore lint/correctness/useExhaustiveDependencies: another print is another player
  useEffect(() => {
    at.current = 0;
    setPicture(0);
    const video = over.current;
    if (!video || !frames) return undefined;
    let asked = 0;
    const step = (_now: number, { mediaTime }: VideoFrameCallbackMetadata) => {
      if (!video.paused) {
        at.current = pictureAt(mediaTime, fps, frames);
        setPicture(at.current);
        follow(video, under.current, fps);
      }
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
  }, [id, fps, frames]);

  const goTo = useCallback(
    (wanted: number) => {
      at.current = Math.max(0, Math.min(frames - 1, wanted));
      over.current?.pause();
      for (const video of [over.current, under.current])
        if (video) video.currentTime = momentOf(at.current, fps);
      setPicture(at.current);
    },
    [fps, frames],
  );
  const step = useCallback((pictures: number) => goTo(at.current + pictures), [goTo]);
  const play = useCallback(() => {
    const video = over.current;
    if (!video) return;
    if (video.paused) void video.play();
    else goTo(at.current);
  }, [goTo]);
  return { over, under, picture, isPlaying, goTo, step, play };
}

/** The film underneath shows what the one above does, to half a picture. */
function follow(video: HTMLVideoElement, other: HTMLVideoElement | null, fps: number): void {
  if (other && Math.abs(other.currentTime - video.currentTime) > 0.5 / fps)
    other.currentTime = video.currentTime;
}
