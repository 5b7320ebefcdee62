/** Paints the whole stage at one frame: backdrop, grid, ghosts, figures, frame numbers. */

import type { LayerPlace, Lens, PosedFigure } from '../api/framePack';
import { jointOf, paintArc } from './arcs';
import { type Camera, lensCamera, type Orbit, orbitCamera, pictureIn, project } from './camera';
import {
  AFTER_TEXT,
  AMBER,
  BEFORE_TEXT,
  GRAPHITE,
  INK,
  PENCIL_BLUE,
  PENCIL_RED,
  SHEET,
} from './colour';
import { paintGrid, paintShade } from './ground';
import { paintGuides } from './guides';
import { layerDepth, paintLayer, paintOverlay, type StageLayer } from './layers';
import { paintAround, paintBeside, paintLens } from './lens';
import { paintMarks } from './marks';
import { ghostOf, paintFigure, paintGhost, type ShownPart } from './paint';
import { paintPair } from './pair';
import { paintPrints } from './prints';
import { PAVING_X, paintQuay } from './quay';
import type { Ghosts, StageFigure, StageScene, StageView } from './scene';
import { paintUnderlay } from './underlay';
import type { Vec3 } from './vector';

/** Whether the camera looks down on the ground, where marks can be drawn. */
export const isPlan = (orbit: Orbit): boolean => orbit.pitch > 80;

export const EYE_HEIGHT = 0.86;

const FIGURE_DISTANCE = 5;

/** What brings the figure to the middle of the picture, seen from where one looks. */
export const onTheFigure = ({ orbit }: StageView) =>
  ({
    follow: true,
    target: [0, EYE_HEIGHT, 0],
    orbit: { ...orbit, distance: FIGURE_DISTANCE },
  }) satisfies Partial<StageView>;

/** Where the camera looks at this frame. */
export function targetAt(scene: StageScene, view: StageView, frame: number): Vec3 {
  if (!view.follow) return view.target;
  const watched = watchedIn(scene, view);
  const pose = watched && scene.pose(watched.id, frame);
  if (!pose) return view.target;
  return [pose.travel[0], EYE_HEIGHT, pose.travel[1]];
}

/** From where the stage is seen at a frame: through the scene’s camera, or as one looks round. */
export function seenFrom(
  scene: StageScene,
  view: StageView,
  frame: number,
  width: number,
  height: number,
): { readonly camera: Camera; readonly target: Vec3; readonly lens: Lens | null } {
  const lens = (view.through && scene.lens?.(frame)) || null;
  if (lens) return { camera: lensCamera(lens, width, height), target: lens.look, lens };
  const target = targetAt(scene, view, frame);
  return { camera: orbitCamera(view.orbit, target, width, height), target, lens };
}

/** The foot on which the watched figure stands at a frame, as something to look about; none in the air. */
export function plantedFoot(scene: StageScene, view: StageView, frame: number): Vec3 | null {
  const figure = watchedIn(scene, view);
  const pose = figure && scene.pose(figure.id, frame);
  const plant = figure?.plants.find(({ start, end }) => start <= frame && frame < end);
  if (!pose || !plant) return null;
  const [x, , z] = jointOf(pose.positions, plant.toe < 0 ? plant.foot : plant.toe);
  return [x, EYE_HEIGHT / 2, z];
}

/** The figure that is followed, and whose neighbouring poses and numbers show. */
const watchedIn = (scene: StageScene, view: StageView): StageFigure | undefined =>
  scene.figures.find((figure) => figure.id === view.watched) ?? scene.figures[0];

export function paintStage(
  context: CanvasRenderingContext2D,
  width: number,
  height: number,
  scene: StageScene,
  view: StageView,
  frame: number,
  loop: { readonly start: number; readonly end: number } | null,
  playing: boolean,
): void {
  const { camera, target, lens } = seenFrom(scene, view, frame, width, height);
  const fromAbove = !lens && isPlan(view.orbit);
  if (view.transparent) {
    context.clearRect(0, 0, width, height);
  } else if (scene.backdrop === 'quay') {
    paintQuay(context, camera, target, width, height);
  } else {
    context.fillStyle = SHEET;
    context.fillRect(0, 0, width, height);
  }
  const edge = scene.backdrop === 'quay' ? PAVING_X : undefined;
  const layers = layersAt(scene, frame);
  const picture = lens ? pictureIn(width, height) : { x: 0, y: 0, width, height };
  for (const { layer, place } of layers)
    if (layer.stands === 'under') paintOverlay(context, layer, place, picture);
  for (const { layer, place } of layers)
    if (layer.stands === 'behind') paintLayer(context, camera, layer, place);
  if (view.grid ?? !view.plain) paintGrid(context, camera, [target[0], 0, target[2]], edge);
  const underlay = scene.underlay?.(frame);
  if (underlay) paintUnderlay(context, camera, view.orbit, underlay);
  if (view.prints) paintPrints(context, camera, scene, frame);
  // Guides are for the hand: what the camera prints has none.
  if (!lens && !view.plain && scene.guides) paintGuides(context, camera, scene.guides, frame, null);
  if (fromAbove) paintMarks(context, camera, scene, view.watched);
  const pair = playing ? null : scene.pair;
  const watched = watchedIn(scene, view);
  const within = view.ghosts.inLoop && loop ? loop : { start: 0, end: scene.length };
  const shown = scene.figures.flatMap((figure) => {
    const pose = scene.pose(figure.id, frame);
    // Its two poses stand in its place.
    return pose && figure.id !== pair?.figure ? [{ ...figure, pose }] : [];
  });
  // What it was before lies under what it is.
  shown.sort(
    (a, b) =>
      Number(b.inPencil ?? false) - Number(a.inPencil ?? false) ||
      depthOf(camera, b.pose) - depthOf(camera, a.pose),
  );
  for (const figure of shown) {
    paintShade(context, camera, groundOf(figure.pose));
    if (view.ghosts.shown && figure.id === watched?.id)
      paintGhosts(context, scene, view.ghosts, figure, camera, frame, within, playing);
  }
  // Cards stand among the figures, each by how far its pegs are.
  const cards = layers
    .filter(({ layer }) => layer.stands === 'card')
    .map((card) => ({ ...card, depth: layerDepth(camera, card.place) }))
    .sort((a, b) => b.depth - a.depth);
  const cardsBehind = (depth: number) => {
    while (cards.length && cards[0].depth >= depth) {
      const [{ layer, place }] = cards.splice(0, 1);
      paintLayer(context, camera, layer, place);
    }
  };
  for (const { id, costume, pose, inPencil, drawn } of shown) {
    cardsBehind(depthOf(camera, pose));
    if (inPencil) paintGhost(context, costume, pose, camera, ghostOf(PENCIL_BLUE, 0), playing);
    else
      paintFigure(context, costume, pose, camera, 1, partsAt(scene, id, drawn, frame), {
        shows: (card) => scene.drawing?.(id, card, frame) ?? -1,
        lies: (card) => scene.order?.(id, card, frame) ?? null,
      });
  }
  cardsBehind(0);
  if (pair) paintPair(context, camera, scene, pair, fromAbove);
  if (view.arcs.shown) {
    for (const arc of view.arcs.joints) paintArc(context, camera, scene, arc, frame);
  }
  for (const { id, pose } of shown) {
    if (id === watched?.id && !view.plain && !view.isLive)
      paintNumber(context, scene, camera, pose, frame, INK, true);
  }
  for (const { layer, place } of layers)
    if (layer.stands === 'overlay') paintOverlay(context, layer, place, picture);
  if (lens && view.isPrint) paintBeside(context, width, height);
  else if (lens) paintAround(context, width, height);
  else if (view.cameraInset) paintLens(context, camera, scene.lens?.(frame) ?? null);
}

const layersAt = (
  scene: StageScene,
  frame: number,
): readonly { readonly layer: StageLayer; readonly place: LayerPlace }[] =>
  (scene.layers ?? []).flatMap((layer) => {
    const place = layer.at(frame);
    return place ? [{ layer, place }] : [];
  });

const partsAt = (
  scene: StageScene,
  figure: string,
  drawn: StageFigure['drawn'] = [],
  frame: number,
): ShownPart[] =>
  drawn.map((part) => ({ ...part, drawing: scene.drawing?.(figure, part.part, frame) ?? -1 }));

function paintGhosts(
  context: CanvasRenderingContext2D,
  scene: StageScene,
  ghosts: Ghosts,
  figure: StageScene['figures'][number],
  camera: Camera,
  frame: number,
  within: { readonly start: number; readonly end: number },
  playing: boolean,
): void {
  const around = neighbours(scene, ghosts, frame, within);
  for (const { at, side, rank } of around) {
    const faint = ghosts.count > 1 ? (rank - 1) / (ghosts.count - 1) : 0;
    const seen = scene.pose(figure.id, at);
    if (!seen) continue;
    const pose = ghosts.spread ? aside(seen, camera, side * rank * SPREAD_METRES) : seen;
    const colour = side < 0 ? PENCIL_BLUE : PENCIL_RED;
    paintGhost(context, figure.costume, pose, camera, ghostOf(colour, faint), playing);
    paintNumber(context, scene, camera, pose, at, side < 0 ? BEFORE_TEXT : AFTER_TEXT, false);
  }
}

/** How far apart poses stand when they are spread. */
const SPREAD_METRES = 0.95;

interface Neighbour {
  readonly at: number;
  readonly side: -1 | 1;
  readonly rank: number;
}

/** The poses drawn through, farthest first: frames so far apart, or the keys on either side. */
export function neighbours(
  scene: Pick<StageScene, 'length' | 'keyFrames' | 'goesRound'>,
  ghosts: Ghosts,
  frame: number,
  within: { readonly start: number; readonly end: number },
): Neighbour[] {
  const found: Neighbour[] = [];
  const { length } = scene;
  const round = (at: number) => ((at % length) + length) % length;
  for (const side of [-1, 1] as const) {
    const keys = ghosts.ofKeys ? keysBeside(scene, frame, side) : null;
    for (let rank = ghosts.count; rank >= 1; rank--) {
      const at = keys ? keys[rank - 1] : frame + side * rank * ghosts.step;
      if (at === undefined) continue;
      if (scene.goesRound && !ghosts.inLoop) found.push({ at: round(at), side, rank });
      else if (at >= within.start && at < within.end) found.push({ at, side, rank });
    }
  }
  return found.sort((a, b) => b.rank - a.rank);
}

/** Key frames on one side, nearest first; in a cycle they go on over the seam. */
function keysBeside(
  scene: Pick<StageScene, 'length' | 'keyFrames' | 'goesRound'>,
  frame: number,
  side: -1 | 1,
): number[] {
  const keys = scene.keyFrames ?? [];
  const rounds = scene.goesRound ? [-1, 0, 1] : [0];
  const all = rounds.flatMap((round) => keys.map((key) => key + round * scene.length));
  const beside = all.filter((key) => (side < 0 ? key < frame : key > frame));
  return side < 0 ? beside.reverse() : beside;
}

/** The same pose set down to the side, as the camera sees it. */
export function aside(pose: PosedFigure, camera: Camera, metres: number): PosedFigure {
  const [x, , z] = camera.right;
  const positions = pose.positions.slice();
  for (let at = 0; at < positions.length; at += 3) {
    positions[at] += x * metres;
    positions[at + 2] += z * metres;
  }
  const travel = pose.travel.slice();
  travel[0] += x * metres;
  travel[1] += z * metres;
  return { ...pose, positions, travel };
}

const groundOf = (pose: PosedFigure): Vec3 => [pose.travel[0], 0, pose.travel[1]];

function depthOf(camera: Camera, pose: PosedFigure): number {
  return project(camera, groundOf(pose)).depth;
}

/** The frame a pose belongs to, on the ground before it. */
function paintNumber(
  context: CanvasRenderingContext2D,
  scene: StageScene,
  camera: Camera,
  pose: PosedFigure,
  frame: number,
  colour: string,
  framed: boolean,
): void {
  const { x, y } = project(camera, groundOf(pose));
  const name = scene.poseName?.(frame);
  const number = String(frame + scene.firstFrame).padStart(name === undefined ? 3 : 2, '0');
  const text = name ? `${number} ${name}` : number;
  const top = y + 16;
  context.save();
  context.font = '500 12px "Spline Sans Mono", monospace';
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  const width = context.measureText(text).width + 8;
  context.fillStyle = SHEET;
  context.globalAlpha = framed ? 1 : 0.82;
  context.fillRect(x - width / 2, top, width, 18);
  context.globalAlpha = 1;
  if (framed) {
    context.strokeStyle = colour;
    context.lineWidth = 1.3;
    context.strokeRect(x - width / 2, top, width, 18);
    context.fillStyle = AMBER;
    context.fillRect(x - width / 2, top + 15.6, width, 2.4);
  }
  context.fillStyle = framed ? colour : colour || GRAPHITE;
  context.fillText(text, x, top + 9);
  context.restore();
}
