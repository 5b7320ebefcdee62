/** What the stage paints of a scene’s desk: the page shows it, and prints are made of it. */

import type { Schemas } from '../api/client';
import type { FrameStore } from '../player/frameStore';
import type { Costume } from './costume';
import type { LayerDrawing, StageLayer } from './layers';
import type { DrawnPart, SeenChart } from './mouth';
import type { PictureStore } from './pictureStore';
import type { Plant, StageFigure, StageScene } from './scene';

type Desk = Schemas['Desk'];
type DeskLane = Schemas['DeskLane'];
type When = (laid: number) => number;
/** When what lies on a lane plays. */
type WhenOn = (lane: DeskLane) => When;

/** When what is laid plays, lane by lane: one that keeps its own time is on the played ruler already. */
export const whenOn =
  (playedAt: When): WhenOn =>
  (lane) =>
    lane.keeps_own_time ? (laid) => laid : playedAt;

/** The desk’s figures that are dressed by now. */
export function figuresOf(
  desk: Desk,
  costumes: readonly (Costume | undefined)[],
  drawn: ReadonlyMap<string, readonly DrawnPart[]>,
  when: WhenOn,
): StageFigure[] {
  return desk.figures.flatMap((figure, place) => {
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
          lane.stints.flatMap((stint) => plantsOf(stint, costume, when(lane))),
        ),
        starts: lanes.flatMap((lane) => lane.stints.map((stint) => when(lane)(stint.start))),
      },
    ];
  });
}

/** What a scene’s frames tell, and what does not change with them. */
export function framesOf(
  desk: Desk,
  frames: FrameStore,
): Omit<StageScene, 'figures' | 'layers' | 'pair'> {
  return {
    pose: (figure, frame) => frames.pose(figure, frame),
    drawing: (figure, part, frame) => frames.drawing(figure, part, frame),
    order: (figure, card, frame) => frames.order(figure, card, frame),
    ...(desk.camera && { lens: (frame: number) => frames.lens(frame) }),
    guides: desk.guides.map(({ id, name }) => ({
      id,
      name,
      at: (frame: number) => frames.guide(id, frame),
    })),
    length: desk.played_frames,
    firstFrame: desk.first_frame,
    backdrop: desk.backdrop,
  };
}

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

/** The parts of figures that are drawn, with the charts of the lanes that draw them. */
export function drawnPartsOf(
  lanes: readonly DeskLane[],
  chartOf: (id: string) => SeenChart | undefined,
): ReadonlyMap<string, readonly DrawnPart[]> {
  const found = new Map<string, DrawnPart[]>();
  for (const lane of lanes) {
    if (lane.target.kind !== 'part' || !lane.plays) continue;
    const seen = lane.charts.flatMap((id) => chartOf(id) ?? []);
    if (!seen.length) continue;
    const { figure, part } = lane.target;
    const others = (found.get(figure) ?? []).filter((one) => one.part !== part);
    found.set(figure, [...others, { part, charts: seen }]);
  }
  return found;
}

/** A set’s drawings by their numbers, each with where it lies on its sheet. */
export function drawingsIn(sheet: Schemas['SetSheet']): ReadonlyMap<number, LayerDrawing> {
  const placed = new Map(sheet.placed.map((one) => [one.number, one]));
  const own = new Map<number, LayerDrawing>();
  for (const { number, picture } of sheet.drawn.drawings) {
    const at = placed.get(number) as Pick<LayerDrawing, 'across' | 'up'> | undefined;
    if (at) own.set(number, { file: picture.file, across: at.across, up: at.up });
  }
  return own;
}

/** The desk’s layers of drawings, from the lowest to the uppermost: the uppermost lane’s is painted last. */
export function layersOf(
  layers: Desk['layers'],
  drawings: ReadonlyMap<string, ReadonlyMap<number, LayerDrawing>>,
  pictures: PictureStore,
  frames: FrameStore,
): StageLayer[] {
  return [...layers].reverse().map((layer) => ({
    id: layer.id,
    name: layer.name,
    stands: layer.stands ?? 'card',
    heightMetres: layer.height_metres ?? 1,
    mirrored: layer.mirrored ?? false,
    facesCamera: layer.faces_camera ?? false,
    repeats: layer.repeats ?? false,
    drawings: drawings.get(layer.drawings) ?? new Map(),
    pictures,
    at: (frame: number) => frames.layer(layer.id, frame),
  }));
}
