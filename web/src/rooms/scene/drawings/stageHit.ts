import { jointUnder } from '../../../stage/arcs';
import { groundUnder } from '../../../stage/ground';
import type { StageScene, StageView } from '../../../stage/scene';
import { seenFrom } from '../../../stage/stagePainter';
import type { StageHit } from './useRuns';

/** What of the stage lies under the pointer: a figure’s joint, or the ground; none beside the picture. */
export function stageHit(
  picture: HTMLElement | null,
  scene: StageScene,
  view: StageView,
  frame: number,
  clientX: number,
  clientY: number,
): StageHit | null {
  const area = picture?.getBoundingClientRect();
  if (!area || clientX < area.left || clientX > area.right) return null;
  if (clientY < area.top || clientY > area.bottom) return null;
  const { camera, target } = seenFrom(scene, view, frame, area.width, area.height);
  const [x, y] = [clientX - area.left, clientY - area.top];
  const headingDegrees = Math.round(view.orbit.yaw);
  const found = jointUnder(camera, scene, frame, x, y);
  const figure = scene.figures.find(({ id }) => id === found?.figure);
  const joint = found && figure?.costume.figure.joints[found.joint]?.name;
  return {
    place: groundUnder(camera, x, y) ?? target,
    headingDegrees,
    on: found && joint ? { figure: found.figure, joint } : null,
  };
}
