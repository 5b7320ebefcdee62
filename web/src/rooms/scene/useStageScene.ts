import { type UseQueryResult, useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Schemas } from '../../api/client';
import { type Chart, chartQuery } from '../../api/lines';
import type { FrameStore } from '../../player/frameStore';
import type { LaidHead } from '../../player/laidHead';
import type { Player } from '../../player/player';
import type { Costume } from '../../stage/costume';
import { costumeQuery } from '../../stage/Filmstrip';
import type { DrawnPart, SeenChart } from '../../stage/mouth';
import type { Plant, StagePair, StageScene } from '../../stage/scene';
import { useLayers } from './useLayers';

type Desk = Schemas['Desk'];

/** The desk's figures, dressed, with all that the stage paints of them. */
export function useStageScene(
  desk: Desk,
  head: LaidHead,
  frames: FrameStore,
  pair: StagePair | null,
  production: string,
  player: Player,
): StageScene {
  const costumes = useQueries({
    queries: desk.figures.map((figure) => costumeQuery(figure.figure)),
    combine: combineCostumes,
  });
  const drawn = useDrawnParts(desk);
  const layers = useLayers(desk, frames, production, player);
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
            drawn: drawn.get(figure.id) ?? [],
            plants: lanes.flatMap((lane) =>
              lane.stints.flatMap((s) => plantsOf(s, costume, when(lane, head))),
            ),
            starts: lanes.flatMap((lane) => lane.stints.map((s) => when(lane, head)(s.start))),
          },
        ];
      }),
      pose: (figure, frame) => frames.pose(figure, frame),
      drawing: (figure, part, frame) => frames.drawing(figure, part, frame),
      order: (figure, card, frame) => frames.order(figure, card, frame),
      ...(desk.camera && { lens: (frame: number) => frames.lens(frame) }),
      layers,
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
    [desk, head, frames, costumes, pair, drawn, layers],
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

const combineCharts = (results: UseQueryResult<Chart>[]) => results.map((query) => query.data);

/** The parts of the desk’s figures that are drawn, with the charts of the lanes that draw them. */
function useDrawnParts(desk: Desk): ReadonlyMap<string, readonly DrawnPart[]> {
  const ids = [...new Set(desk.lanes.flatMap((lane) => lane.charts))];
  const charts = useQueries({ queries: ids.map(chartQuery), combine: combineCharts });
  const known = ids.join();
  return useMemo(() => {
    const found = new Map<string, DrawnPart[]>();
    const byId = new Map(known.split(',').map((id, place) => [id, charts[place]]));
    for (const lane of desk.lanes) {
      if (lane.target.kind !== 'part' || !lane.plays) continue;
      const seen = lane.charts.flatMap((id): SeenChart[] => {
        const chart = byId.get(id);
        if (!chart) return [];
        const { reach_degrees: reachDegrees, pictures } = chart;
        return [{ chart: chart.chart, reachDegrees, pictures }];
      });
      if (!seen.length) continue;
      const { figure, part } = lane.target;
      const others = (found.get(figure) ?? []).filter((one) => one.part !== part);
      found.set(figure, [...others, { part, charts: seen }]);
    }
    return found;
  }, [desk.lanes, charts, known]);
}
