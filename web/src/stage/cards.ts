/** Cut-outs: pictures on joints that turn in the plane of the paper. */

import type { components } from '../api/schema';

type Card = components['schemas']['Card'];
type Figure = components['schemas']['Figure'];

/** A card ready to be painted: what takes a place on its picture to its joint’s y–z plane, in metres. */
export interface CostumeCard {
  readonly name: string;
  readonly joint: number;
  readonly order: number;
  readonly pictures: ReadonlyMap<number, CardSheet>;
  readonly first: CardSheet;
}

/** One drawing of a card: [z, y] of its lower left corner, and how far its width and its height reach. */
interface CardSheet {
  readonly file: string;
  readonly corner: readonly [number, number];
  readonly across: readonly [number, number];
  readonly up: readonly [number, number];
}

export function cardsOf(figure: Figure): readonly CostumeCard[] {
  const joints = new Map(figure.joints.map(({ name }, place) => [name, place]));
  return (figure.dress?.cards ?? []).flatMap((card) => {
    const joint = joints.get(card.joint);
    return joint === undefined ? [] : [prepared(card, joint)];
  });
}

function prepared(card: Card, joint: number): CostumeCard {
  const [first] = card.pictures;
  return {
    name: card.name,
    joint,
    order: card.order ?? 0,
    pictures: new Map(card.pictures.map((shown) => [shown.drawing, sheetOf(card, shown)])),
    first: sheetOf(card, first),
  };
}

function sheetOf(card: Card, shown: Card['pictures'][number]): CardSheet {
  const { picture } = shown;
  const metres = (card.metres_per_pixel ?? 0.001) * (shown.scale ?? 1);
  const side = card.mirrored ? -1 : 1;
  const [wide, high] = [picture.width_pixels * metres, picture.height_pixels * metres];
  const turn = (((card.turn_degrees ?? 0) + (shown.turn_degrees ?? 0)) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  // As the hands of a clock go, z to the right and y up.
  const around = (z: number, y: number): readonly [number, number] => [
    side * (cos * z + sin * y),
    -sin * z + cos * y,
  ];
  const [pivotX, pivotY] = shown.pivot ?? card.pivot ?? [0.5, 0.5];
  return {
    file: picture.file,
    corner: around(-pivotX * wide, -pivotY * high),
    across: around(wide, 0),
    up: around(0, high),
  };
}
