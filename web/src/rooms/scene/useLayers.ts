import { type UseQueryResult, useQueries } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import type { Schemas } from '../../api/client';
import { type DrawnSet, pictureShown, setQuery } from '../../api/drawings';
import type { FrameStore } from '../../player/frameStore';
import type { Player } from '../../player/player';
import type { LayerDrawing, StageLayer } from '../../stage/layers';
import { drawingsIn, layersOf } from '../../stage/ofDesk';
import { PictureStore } from '../../stage/pictureStore';

const combine = (results: UseQueryResult<DrawnSet>[]) => results.map((query) => query.data);

/** The desk’s layers of drawings, with the pictures of their sets: on their way before they are to be seen. */
export function useLayers(
  desk: Schemas['Desk'],
  frames: FrameStore,
  production: string,
  player: Player,
): readonly StageLayer[] {
  const [pictures] = useState(
    () => new PictureStore((file) => pictureShown(production, file, 'shown')),
  );
  const ids = [...new Set(desk.layers.map((layer) => layer.drawings))];
  const sets = useQueries({ queries: ids.map(setQuery), combine });
  const known = ids.join();
  const drawings = useMemo(() => {
    const found = new Map<string, ReadonlyMap<number, LayerDrawing>>();
    for (const [place, id] of known.split(',').entries()) {
      const set = sets[place]?.drawings;
      if (!set) continue;
      found.set(id, drawingsIn(set));
    }
    return found;
  }, [sets, known]);
  // Few drawings are there before they are to be seen; of a movie those that come next.
  useEffect(() => {
    for (const own of drawings.values())
      if (own.size <= MOST_AT_ONCE) for (const { file } of own.values()) pictures.image(file);
  }, [drawings, pictures]);
  const layers = useMemo(
    () => layersOf(desk.layers, drawings, pictures, frames),
    [desk.layers, drawings, pictures, frames],
  );
  useEffect(() => {
    const long = layers.filter((layer) => layer.drawings.size > MOST_AT_ONCE);
    if (!long.length) return undefined;
    const look = (frame: number) => {
      const next: string[] = [];
      for (let ahead = 0; ahead <= LOOKED_AHEAD_FRAMES; ahead++)
        for (const layer of long) {
          const place = layer.at(frame + ahead);
          const drawing = place && layer.drawings.get(place.drawing);
          if (drawing) next.push(drawing.file);
        }
      pictures.expect(next);
    };
    look(player.frame);
    return player.onFrame(look);
  }, [layers, player, pictures]);
  return layers;
}

const MOST_AT_ONCE = 60;
const LOOKED_AHEAD_FRAMES = 24;
