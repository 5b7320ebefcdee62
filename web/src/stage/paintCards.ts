/** Painting a cut-out: its pictures, each on its joint. */

import { type Camera, project } from './camera';
import type { Costume } from './costume';
import { type Pose, placed, turned } from './layout';
import { dot, sub, type Vec3 } from './vector';

/** Which drawing a card shows (none that is no number of it shows its first), and where it lies in the order. */
export interface CardLook {
  readonly shows: (card: string) => number;
  readonly lies: (card: string) => number | null;
}

/** Paint a figure’s cards, those underneath first: as they are, or in one pencil. */
export function paintCards(
  context: CanvasRenderingContext2D,
  costume: Costume,
  pose: Pose,
  camera: Camera,
  look: CardLook,
  pencil: string | null = null,
): void {
  const { cards, pictures } = costume;
  if (!cards.length || !pictures) return;
  const right = turned(pose, 0, [1, 0, 0]);
  const root: Vec3 = [pose.positions[0], pose.positions[1], pose.positions[2]];
  // From the other side the paper is seen from behind, and what lay on top lies underneath.
  const way = dot(sub(camera.eye, root), right) < 0 ? 1 : -1;
  const lying = cards.map((card) => ({ ...card, order: look.lies(card.name) ?? card.order }));
  for (const card of lying.sort((a, b) => way * (a.order - b.order))) {
    const { file, corner, across, up } = card.pictures.get(look.shows(card.name)) ?? card.first;
    const at = (u: number, v: number) => {
      const z = corner[0] + u * across[0] + v * up[0];
      const y = corner[1] + u * across[1] + v * up[1];
      return project(camera, placed(pose, card.joint, [0, y, z]));
    };
    const [above, beside, below] = [at(0, 1), at(1, 1), at(0, 0)];
    const pixels = Math.hypot(beside.x - above.x, beside.y - above.y);
    const picture = pencil ? pictures.tinted(file, pencil) : pictures.near(file, pixels);
    if (!picture) continue;
    context.save();
    context.transform(
      beside.x - above.x,
      beside.y - above.y,
      below.x - above.x,
      below.y - above.y,
      above.x,
      above.y,
    );
    context.drawImage(picture, 0, 0, 1, 1);
    context.restore();
  }
}
