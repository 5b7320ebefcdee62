/** The hand on the figure: rings that turn, hands and feet that reach, the root that moves. */

import type { Schemas } from '../api/client';
import type { PoseChange } from '../api/clips';
import type { Draw } from '../app/drawing';
import { jointOf, jointsUnder, meant } from './arcs';
import { type Camera, project } from './camera';
import { AMBER, INK, PENCIL_BLUE, PENCIL_RED, SHEET } from './colour';
import { turned } from './layout';
import type { StageHand } from './Stage';
import type { StageScene } from './scene';
import { add, scale, type Vec3 } from './vector';

type BodyJoint = Pick<Schemas['BodyJoint'], 'name' | 'parent' | 'side' | 'reaches'>;

interface HandOptions {
  /** The joints of the figure, in order. */
  readonly body: readonly BodyJoint[];
  readonly scene: StageScene;
  readonly figure: string;
  /** Those that are chosen. */
  readonly joints: readonly string[];
  readonly shown: boolean;
  readonly mayChange: boolean;
  readonly heldAxis: () => 'x' | 'y' | 'z' | null;
  readonly onPick: (joint: string, adding: boolean) => void;
  readonly onDraw: (frame: number, change: PoseChange, done: boolean) => void;
  readonly onCancel: () => void;
}

const RING = 27;
const RING_WIDTH = 7;
const DOT_REACH = 6;
const AXES: Readonly<Record<'x' | 'y' | 'z', Vec3>> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] };

export function poseHand(options: HandOptions): StageHand {
  const { body, scene, figure, joints, mayChange } = options;
  const names = body.map((joint) => joint.name);
  const poseAt = (frame: number) => scene.pose(figure, frame);
  const placeOn = (camera: Camera, frame: number, joint: number) => {
    const pose = poseAt(frame);
    return pose && project(camera, jointOf(pose.positions, joint));
  };

  /** Turn a joint about the view, or about its own axis with X, Y or Z held. */
  const turnBy = (camera: Camera, frame: number, joint: number, x: number, y: number): Draw => {
    const centre = placeOn(camera, frame, joint) ?? { x, y };
    const pose = poseAt(frame);
    const axis = options.heldAxis();
    const own = axis && pose && turned(pose, joint, AXES[axis]);
    const from = Math.atan2(y - centre.y, x - centre.x);
    const changeOf = (dx: number, dy: number): PoseChange => {
      let degrees = ((Math.atan2(y + dy - centre.y, x + dx - centre.x) - from) * 180) / Math.PI;
      if (degrees > 180) degrees -= 360;
      if (degrees < -180) degrees += 360;
      // On the screen y goes down: clockwise there is a positive turn about the way one looks.
      if (own) {
        const away =
          own[0] * camera.forward[0] + own[1] * camera.forward[1] + own[2] * camera.forward[2];
        return {
          kind: 'turn',
          joint: names[joint],
          axis: [...own],
          degrees: away < 0 ? -degrees : degrees,
        };
      }
      return { kind: 'turn', joint: names[joint], axis: [...camera.forward], degrees };
    };
    return drawing(frame, changeOf);
  };
  const across = (camera: Camera, depth: number, dx: number, dy: number): Vec3 => {
    const metres = depth / camera.focal;
    return add(scale(camera.right, dx * metres), scale(camera.up, -dy * metres));
  };
  const drawing = (frame: number, changeOf: (dx: number, dy: number) => PoseChange): Draw => ({
    onMove: (dx, dy) => options.onDraw(frame, changeOf(dx, dy), false),
    onDrop: (dx, dy) => options.onDraw(frame, changeOf(dx, dy), true),
    onCancel: options.onCancel,
  });

  return {
    grab: (camera, frame, x, y, event) => {
      if (!options.shown) return null;
      const ringed = joints.length === 1 ? names.indexOf(joints[0]) : -1;
      const centre = ringed >= 0 ? placeOn(camera, frame, ringed) : null;
      if (centre && mayChange && !event.shiftKey) {
        const away = Math.hypot(centre.x - x, centre.y - y);
        // A joint that the ring happens to pass over is the joint, and not the ring.
        const dots = jointsUnder(camera, scene, frame, x, y, DOT_REACH);
        const dot = dots.some((at) => at.figure === figure);
        if (!dot && Math.abs(away - RING) <= RING_WIDTH) return turnBy(camera, frame, ringed, x, y);
      }
      const spot = jointsUnder(camera, scene, frame, x, y).filter((at) => at.figure === figure);
      const picked = meant(spot, ({ joint }) => joints.includes(names[joint]));
      if (!picked) return null;
      const found = picked.now;
      const name = names[found.joint];
      // Several joints on one spot are taken in turn.
      const pressed = event.shiftKey ? name : names[picked.next.joint];
      const press = () => options.onPick(pressed, event.shiftKey);
      const nothing: Draw = {
        onMove: () => {},
        onDrop: () => {},
        onPress: press,
        onCancel: () => {},
      };
      if (!mayChange || event.shiftKey) return nothing;
      const pose = poseAt(frame);
      const at = pose && jointOf(pose.positions, found.joint);
      const place = placeOn(camera, frame, found.joint);
      if (!at || !place) return nothing;
      const isEnd = body[found.joint].reaches;
      const isChosen = joints.includes(name);
      let draw: Draw;
      if (found.joint === 0) {
        draw = drawing(frame, (dx, dy) => ({
          kind: 'move_root',
          by: [...across(camera, place.depth, dx, dy)],
        }));
      } else if (isEnd && !options.heldAxis()) {
        draw = drawing(frame, (dx, dy) => ({
          kind: 'reach',
          joint: name,
          to: [...add(at, across(camera, place.depth, dx, dy))],
        }));
      } else {
        // From the dot itself a turn is drawn about the joint above, as one draws a limb along.
        draw = turnBy(camera, frame, body[found.joint].parent, x, y);
      }
      return {
        ...draw,
        onMove: (dx, dy, moved) => {
          if (!isChosen) options.onPick(name, false);
          draw.onMove(dx, dy, moved);
        },
        onPress: press,
      };
    },
    paint: (context, camera, frame) => {
      if (!options.shown) return;
      const pose = poseAt(frame);
      if (!pose) return;
      context.save();
      paintBones(context, camera, body, pose);
      body.forEach((joint, place) => {
        const { x, y } = project(camera, jointOf(pose.positions, place));
        const isChosen = joints.includes(joint.name);
        context.beginPath();
        context.arc(x, y, isChosen ? 5 : 3.4, 0, Math.PI * 2);
        context.fillStyle = isChosen ? AMBER : SHEET;
        context.fill();
        context.lineWidth = 1.3;
        context.strokeStyle = INK;
        context.stroke();
      });
      if (joints.length === 1 && mayChange) {
        const place = names.indexOf(joints[0]);
        if (place >= 0) paintRing(context, project(camera, jointOf(pose.positions, place)));
      }
      context.restore();
    },
  };
}

function paintBones(
  context: CanvasRenderingContext2D,
  camera: Camera,
  body: readonly BodyJoint[],
  pose: { readonly positions: Float32Array },
): void {
  context.lineWidth = 1;
  context.setLineDash([4, 3]);
  for (const side of ['middle', 'left', 'right']) {
    context.beginPath();
    body.forEach((joint, place) => {
      if (joint.parent < 0 || joint.side !== side) return;
      const from = project(camera, jointOf(pose.positions, joint.parent));
      const to = project(camera, jointOf(pose.positions, place));
      context.moveTo(from.x, from.y);
      context.lineTo(to.x, to.y);
    });
    context.strokeStyle = side === 'left' ? PENCIL_BLUE : side === 'right' ? PENCIL_RED : SHEET;
    context.stroke();
  }
  context.setLineDash([]);
}

function paintRing(context: CanvasRenderingContext2D, { x, y }: { x: number; y: number }): void {
  context.beginPath();
  context.arc(x, y, RING, 0, Math.PI * 2);
  context.lineWidth = 4.4;
  context.strokeStyle = SHEET;
  context.stroke();
  context.lineWidth = 2.2;
  context.strokeStyle = AMBER;
  context.stroke();
}
