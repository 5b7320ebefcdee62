/** Layers of drawings on the stage: flat cards in its space, behind all of it, or over the picture. */

import type { Schemas } from '../api/client';
import type { LayerPlace } from '../api/framePack';
import { type Camera, project } from './camera';
import type { PictureStore } from './pictureStore';
import { add, scale, type Vec3 } from './vector';

/** A drawing of a layer: its picture, and where that lies on the set's sheet (see the core's DrawingSet). */
export interface LayerDrawing {
  readonly file: string;
  readonly across: readonly [number, number, number];
  readonly up: readonly [number, number, number];
}

export interface StageLayer {
  readonly id: string;
  readonly name: string;
  readonly stands: Schemas['Layer']['stands'];
  readonly heightMetres: number;
  readonly mirrored: boolean;
  readonly facesCamera: boolean;
  readonly repeats: boolean;
  readonly drawings: ReadonlyMap<number, LayerDrawing>;
  readonly pictures: PictureStore;
  readonly at: (frame: number) => LayerPlace | null;
}

interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Of a sheet that goes on sideways no more is painted to either side. */
const MOST_REPEATS = 60;
/** A card that is higher on one side than on the other is painted in strips, each so much higher than the last:
 * at its edge no step is seen. */
const STEP_PIXELS = 0.8;
const MOST_STRIPS = 48;
/** Neighbours overlap by so many pixels, so that no light shows between them. */
const OVERLAP_PIXELS = 0.7;

/** How far a layer's pegs are from the eye. */
export const layerDepth = (camera: Camera, place: LayerPlace): number =>
  project(camera, place.at).depth;

/** Paint a card, one behind or one that stands. */
export function paintLayer(
  context: CanvasRenderingContext2D,
  camera: Camera,
  layer: StageLayer,
  place: LayerPlace,
): void {
  const drawing = layer.drawings.get(place.drawing);
  if (!drawing || place.opacity <= 0) return;
  const [right, upward] = axesOf(camera, layer, place);
  const metres = layer.heightMetres;
  const side = layer.mirrored ? -1 : 1;
  const on = (x: number, y: number): Vec3 =>
    add(place.at, add(scale(right, side * x * metres), scale(upward, y * metres)));
  const wide = drawing.across[0] + drawing.across[1];
  const pixels =
    Math.hypot(drawing.across[0], drawing.up[0]) * metres * project(camera, place.at).scale;
  const picture = layer.pictures.near(drawing.file, pixels);
  if (!picture) return;
  context.save();
  context.globalAlpha = place.opacity;
  for (const shift of layer.repeats ? repeatsOf(camera, drawing, wide, on, context) : [0]) {
    const corner = (u: number, v: number): Vec3 => {
      const [a, b, c] = drawing.across;
      const [d, e, f] = drawing.up;
      return on(a * u + b * v + c + shift * wide, d * u + e * v + f);
    };
    paintCard(context, camera, picture, corner);
  }
  context.restore();
}

/** Paint what lies over the picture, or under it: by its heights, from its middle. */
export function paintOverlay(
  context: CanvasRenderingContext2D,
  layer: StageLayer,
  place: LayerPlace,
  picture: Rect,
): void {
  const drawing = layer.drawings.get(place.drawing);
  const high = picture.height;
  const image =
    drawing && layer.pictures.near(drawing.file, layer.heightMetres * high * drawing.across[0]);
  if (!drawing || !image || place.opacity <= 0) return;
  const size = layer.heightMetres * high * (layer.mirrored ? -1 : 1);
  const tall = layer.heightMetres * high;
  const x = picture.x + picture.width / 2 + place.at[0] * high;
  const y = picture.y + high / 2 - place.at[1] * high;
  const [a, b, c] = drawing.across;
  const [d, e, f] = drawing.up;
  context.save();
  context.beginPath();
  context.rect(picture.x, picture.y, picture.width, picture.height);
  context.clip();
  context.globalAlpha = place.opacity;
  context.transform(
    size * a,
    -tall * d,
    -size * b,
    tall * e,
    x + size * (b + c),
    y - tall * (e + f),
  );
  context.drawImage(image, 0, 0, 1, 1);
  context.restore();
}

/** What a card's own right and up are in the world. */
function axesOf(camera: Camera, layer: StageLayer, place: LayerPlace): readonly [Vec3, Vec3] {
  if (layer.facesCamera) {
    const [x, , z] = camera.right;
    const length = Math.hypot(x, z) || 1;
    return [
      [x / length, 0, z / length],
      [0, 1, 0],
    ];
  }
  const [w, x, y, z] = place.turn;
  return [
    [1 - 2 * (y * y + z * z), 2 * (x * y + w * z), 2 * (x * z - w * y)],
    [2 * (x * y - w * z), 1 - 2 * (x * x + z * z), 2 * (y * z + w * x)],
  ];
}

/** Which repeats of a sheet, to its left and to its right, are in the picture. */
function repeatsOf(
  camera: Camera,
  drawing: LayerDrawing,
  wide: number,
  on: (x: number, y: number) => Vec3,
  context: CanvasRenderingContext2D,
): readonly number[] {
  const width = context.canvas.clientWidth || context.canvas.width;
  const [, , left] = drawing.across;
  const found: number[] = [];
  for (const way of [1, -1]) {
    for (let k = way > 0 ? 0 : 1; k <= MOST_REPEATS; k++) {
      const start = left + way * k * wide;
      const ends = [project(camera, on(start, 0)), project(camera, on(start + wide, 0))];
      if (ends.some(({ depth }) => depth < LEAST_DEPTH)) break;
      const [low, high] = [Math.min(ends[0].x, ends[1].x), Math.max(ends[0].x, ends[1].x)];
      if (high >= 0 && low <= width) found.push(way * k);
      // Out of the picture on the side to which it goes.
      else if (found.length > 0) break;
    }
  }
  return found.length ? found : [0];
}

const LEAST_DEPTH = 0.2;

/** A picture on a card in perspective: as it is, or in strips where one side is nearer than the other. */
function paintCard(
  context: CanvasRenderingContext2D,
  camera: Camera,
  picture: CanvasImageSource,
  corner: (u: number, v: number) => Vec3,
): void {
  const sides = [0, 1].map((u) => [project(camera, corner(u, 0)), project(camera, corner(u, 1))]);
  if (sides.flat().some(({ depth }) => depth < LEAST_DEPTH)) return;
  const [left, right] = sides.map(([foot, top]) => Math.hypot(foot.x - top.x, foot.y - top.y));
  const strips = Math.min(
    MOST_STRIPS,
    Math.max(1, Math.ceil(Math.abs(left - right) / STEP_PIXELS)),
  );
  const [across, down] = sizeOf(picture);
  for (let strip = 0; strip < strips; strip++) {
    const [from, to] = [strip / strips, (strip + 1) / strips];
    const at = project(camera, corner(from, 1));
    const beside = project(camera, corner(to, 1));
    const below = project(camera, corner(from, 0));
    const length = Math.hypot(beside.x - at.x, beside.y - at.y) || 1;
    const stretch = 1 + OVERLAP_PIXELS / length;
    context.save();
    context.transform(
      (beside.x - at.x) * stretch,
      (beside.y - at.y) * stretch,
      below.x - at.x,
      below.y - at.y,
      at.x,
      at.y,
    );
    context.drawImage(picture, from * across, 0, (to - from) * across, down, 0, 0, 1, 1);
    context.restore();
  }
}

const sizeOf = (picture: CanvasImageSource): readonly [number, number] =>
  picture instanceof HTMLImageElement
    ? [picture.naturalWidth, picture.naturalHeight]
    : [(picture as HTMLCanvasElement).width, (picture as HTMLCanvasElement).height];
