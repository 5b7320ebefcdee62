import { useCallback, useEffect, useRef } from 'react';
import { type Clip, pictureAt } from '../../api/clips';
import type { Underlay } from '../../stage/underlay';

/** Pictures that are kept loaded: a run is looked through again and again. */
const MOST_LOADED = 240;

/** The picture that lies under each frame, loaded when it is first wanted. */
export function useTracing(
  clip: Clip,
  shown: boolean,
  onLoaded: () => void,
): (frame: number) => Underlay | null {
  const { tracing, traced } = clip.bench;
  const { production } = clip;
  const loaded = useRef(new Map<string, HTMLImageElement>());
  const picture = useCallback(
    (file: string): HTMLImageElement => {
      const known = loaded.current.get(file);
      if (known) return known;
      const image = new Image();
      image.onload = onLoaded;
      image.src = pictureAt(production, file);
      loaded.current.set(file, image);
      const oldest = loaded.current.keys().next().value;
      if (loaded.current.size > MOST_LOADED && oldest) loaded.current.delete(oldest);
      return image;
    },
    [production, onLoaded],
  );
  // The next ones are sent for while this one is looked at.
  useEffect(() => {
    if (shown) for (const { file } of tracing?.pictures.slice(0, MOST_LOADED) ?? []) picture(file);
  }, [shown, tracing, picture]);
  return useCallback(
    (frame: number) => {
      if (!tracing || !shown) return null;
      const span = traced.find((other) => frame >= other.start && frame < other.end);
      if (!span) return null;
      const { file, width_pixels, height_pixels } = tracing.pictures[span.picture];
      const image = picture(file);
      if (!image.complete || !image.naturalWidth) return null;
      return {
        image,
        opacity: tracing.opacity,
        shape: width_pixels / height_pixels,
        heightMetres: tracing.height_metres,
        rightMetres: tracing.right_metres,
        upMetres: tracing.up_metres,
        yaw: tracing.yaw_degrees,
        pitch: tracing.pitch_degrees,
      };
    },
    [tracing, traced, shown, picture],
  );
}
