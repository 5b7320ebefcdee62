import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { poseIn } from '../../../api/framePack';
import {
  type JoinMap,
  type JoinPlace,
  type JoinReport,
  readJoin,
  readJoinMap,
  readJoinPair,
} from '../../../api/joins';
import type { StagePair } from '../../../stage/scene';
import type { Edit, Scene } from '../useScene';

/** A place to join that both poses are to be seen at. */
export type PairWanted = Pick<JoinPlace, 'at' | 'in_frame' | 'planted'> & {
  readonly stint: string;
};

const KEPT_MS = 60_000;

/** What a join does to the performance as it is shown: while it is drawn, as it would be. */
export function useJoinReport(scene: Scene, stint: string, edit: Edit | null): JoinReport | null {
  const query = useQuery({
    queryKey: ['join', scene.id, scene.content, stint],
    queryFn: () => readJoin(scene.id, { stint, edit, revision: revisionOf(scene, edit) }),
    placeholderData: keepPreviousData,
    gcTime: KEPT_MS,
    retry: false,
  });
  return query.data?.incoming === stint ? query.data : null;
}

/** Where two stints could meet, as they stand. */
export function useJoinMap(
  standing: Scene,
  stint: string,
  whole: boolean,
): { readonly map: JoinMap | null; readonly problem: Error | null } {
  const query = useQuery({
    queryKey: ['join map', standing.id, standing.content, stint, whole],
    queryFn: () => readJoinMap(standing.id, { stint, whole, revision: standing.revision }),
    placeholderData: keepPreviousData,
    gcTime: KEPT_MS,
    retry: false,
  });
  return { map: query.data ?? null, problem: query.error };
}

/** Both poses of a place to join, as ghosts for the stage. */
export function useStagePair(
  scene: Scene,
  edit: Edit | null,
  wanted: PairWanted | null,
): StagePair | null {
  const found = wanted && laneOf(scene, wanted.stint);
  const query = useQuery({
    queryKey: ['join pair', scene.id, scene.content, wanted],
    queryFn: async () => {
      if (!wanted) return null;
      const { stint, at, in_frame, planted } = wanted;
      const revision = revisionOf(scene, edit);
      return readJoinPair(scene.id, { stint, at, in_frame, plant: planted, edit, revision });
    },
    enabled: found !== null && found !== undefined,
    placeholderData: keepPreviousData,
    gcTime: KEPT_MS,
    retry: false,
  });
  const pack = query.data;
  return useMemo(() => {
    if (!wanted || !found || !pack) return null;
    const [before, after] = [0, 1].map((place) => poseIn(pack, found.figure, place));
    if (!before || !after) return null;
    return { figure: found.figure, stint: wanted.stint, before, after, planted: wanted.planted };
  }, [wanted, found, pack]);
}

/** Which revision is looked at; an edit is made on the one that stands. */
const revisionOf = (scene: Scene, edit: Edit | null) => (edit ? null : scene.revision);

const laneOf = ({ desk }: Scene, stint: string) =>
  desk.lanes.find((lane) => lane.stints.some((other) => other.id === stint));
