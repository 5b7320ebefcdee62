/** The hand on a chosen guide: its ring moves it, its arrow turns it. */

import type { Draw } from '../app/drawing';
import { project } from './camera';
import { groundUnder } from './ground';
import { paintGuides, tipOf } from './guides';
import type { StageHand } from './Stage';
import type { StageGuide } from './scene';
import { add, scale, type Vec3 } from './vector';

const REACH_PIXELS = 15;

interface HandOptions {
  readonly guide: StageGuide;
  readonly fromAbove: boolean;
  readonly onKey: (frame: number, place: Vec3, heading: number, done: boolean) => void;
  readonly onCancel: () => void;
}

const round = (metres: number): number => Math.round(metres * 100) / 100;

/** In Plan it is moved over the ground, elsewhere across the picture. */
export function guideHand({ guide, fromAbove, onKey, onCancel }: HandOptions): StageHand {
  return {
    grab: (camera, frame, x, y) => {
      const place = guide.at(frame);
      if (!place) return null;
      const [px, py, pz, heading] = place;
      const near = (point: Vec3) => {
        const seen = project(camera, point);
        return Math.hypot(seen.x - x, seen.y - y) < REACH_PIXELS;
      };
      const middle: Vec3 = [px, py, pz];
      const turns = near(tipOf(place));
      if (!turns && !near(middle)) return null;
      const to = (dx: number, dy: number): [Vec3, number] | null => {
        if (turns) {
          const ground = groundUnder(camera, x + dx, y + dy);
          return ground && [middle, Math.atan2(ground[0] - px, ground[2] - pz)];
        }
        const metres = 1 / project(camera, middle).scale;
        const sideways = scale(camera.right, dx * metres);
        // From above down the picture is along the ground; seen from the side it is up and down.
        const along = fromAbove ? scale(camera.up, -dy * metres) : ([0, -dy * metres, 0] as Vec3);
        const moved = add(add(middle, sideways), along);
        return [[round(moved[0]), fromAbove ? py : round(moved[1]), round(moved[2])], heading];
      };
      const show = (dx: number, dy: number, done: boolean) => {
        const drawn = to(dx, dy);
        if (drawn) onKey(frame, drawn[0], drawn[1], done);
        else onCancel();
      };
      const draw: Draw = {
        onMove: (dx, dy) => show(dx, dy, false),
        onDrop: (dx, dy) => show(dx, dy, true),
        onCancel,
      };
      return draw;
    },
    paint: (context, camera, frame) => paintGuides(context, camera, [guide], frame, guide.id),
  };
}
