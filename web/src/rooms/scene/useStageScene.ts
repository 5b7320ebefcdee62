import { type UseQueryResult, useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Schemas } from '../../api/client';
import type { FrameStore } from '../../player/frameStore';
import type { LaidHead } from '../../player/laidHead';
import type { Costume } from '../../stage/costume';
import { costumeQuery } from '../../stage/Filmstrip';
import type { Plant, StagePair, StageScene } from '../../stage/scene';

type Desk = Schemas['Desk'];

/** The desk's figures, dressed, with all that the stage paints of them. */
export function useStageScene(
  desk: Desk,
  head: LaidHead,
  frames: FrameStore,
  pair: StagePair | null,
): StageScene {
  const costumes = useQueries({
    queries: desk.figures.map((figure) => costumeQuery(figure.figure)),
    combine: combineCostumes,
  });
  return useMemo(
    () => ({
      figures: desk.figures.flatMap((figure, place) => {
        const costume = costumes[place];
        if (!costume) return [];
        const lanes = desk.lanes.filter((lane) => lane.figure === figure.id && lane.plays);
        return [
          {
            id: figure.id,
            name: figure.name,
            costume,
            mark: figure.mark ?? [0, 0, 0],
            plants: lanes.flatMap((lane) =>
              lane.stints.flatMap((s) => plantsOf(s, costume, when(lane, head))),
            ),
            starts: lanes.flatMap((lane) => lane.stints.map((s) => when(lane, head)(s.start))),
          },
        ];
      }),
      pose: (figure, frame) => frames.pose(figure, frame),
      ...(desk.camera && { lens: (frame: number) => frames.lens(frame) }),
      guides: desk.guides.map(({ id, name }) => ({
        id,
        name,
        at: (frame: number) => frames.guide(id, frame),
      })),
      length: desk.played_frames,
      firstFrame: desk.first_frame,
      backdrop: desk.backdrop,
      pair,
    }),
    [desk, head, frames, costumes, pair],
  );
}

const combineCostumes = (results: UseQueryResult<Costume>[]) => results.map((query) => query.data);

type When = (laid: number) => number;

/** When what lies on a lane plays. */
const when = (lane: Schemas['DeskLane'], head: LaidHead): When =>
  lane.keeps_own_time ? (laid) => laid : (laid) => head.playedAt(laid);

function plantsOf(stint: Schemas['DeskStint'], costume: Costume, playedAt: When): Plant[] {
  const { joints } = costume.figure;
  const placeOf = (name: string | null) => joints.findIndex((other) => other.name === name);
  return stint.plants.map(({ side, ankle, toe, start, end }) => ({
    side,
    start: playedAt(start),
    end: playedAt(end),
    foot: placeOf(ankle),
    toe: placeOf(toe),
  }));
}
