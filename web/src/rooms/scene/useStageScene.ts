import { type UseQueryResult, useQueries } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Schemas } from '../../api/client';
import { type Chart, chartQuery } from '../../api/lines';
import type { FrameStore } from '../../player/frameStore';
import type { LaidHead } from '../../player/laidHead';
import type { Player } from '../../player/player';
import type { Costume } from '../../stage/costume';
import { costumeQuery } from '../../stage/Filmstrip';
import type { DrawnPart } from '../../stage/mouth';
import { drawnPartsOf, figuresOf, framesOf, whenOn } from '../../stage/ofDesk';
import type { StagePair, StageScene } from '../../stage/scene';
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
      ...framesOf(desk, frames),
      figures: figuresOf(
        desk,
        costumes,
        drawn,
        whenOn((laid) => head.playedAt(laid)),
      ),
      layers,
      pair,
    }),
    [desk, head, frames, costumes, pair, drawn, layers],
  );
}

const combineCostumes = (results: UseQueryResult<Costume>[]) => results.map((query) => query.data);

const combineCharts = (results: UseQueryResult<Chart>[]) => results.map((query) => query.data);

/** The parts of the desk’s figures that are drawn, with the charts of the lanes that draw them. */
function useDrawnParts(desk: Desk): ReadonlyMap<string, readonly DrawnPart[]> {
  const ids = [...new Set(desk.lanes.flatMap((lane) => lane.charts))];
  const charts = useQueries({ queries: ids.map(chartQuery), combine: combineCharts });
  const known = ids.join();
  return useMemo(() => {
    const byId = new Map(known.split(',').map((id, place) => [id, charts[place]]));
    return drawnPartsOf(desk.lanes, (id) => {
      const chart = byId.get(id);
      if (!chart) return undefined;
      const { reach_degrees: reachDegrees, pictures } = chart;
      return { chart: chart.chart, reachDegrees, pictures };
    });
  }, [desk.lanes, charts, known]);
}
