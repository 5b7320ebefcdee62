/** The hand on a figure's size: a knob on a ring about it in Plan, above its head elsewhere. */

import type { Draw } from '../app/drawing';
import { type Camera, project } from './camera';
import { AMBER, INK, SHEET } from './colour';
import { groundUnder } from './ground';
import type { StageHand } from './Stage';
import type { Vec3 } from './vector';

interface SizeOptions {
  /** Where it stands at a frame. */
  readonly placeAt: (frame: number) => Vec3 | null;
  /** How large it is at a frame. */
  readonly sizeAt: (frame: number) => number;
  /** How tall it is at size 1, in metres. */
  readonly tall: number;
  readonly fromAbove: boolean;
  readonly onSize: (frame: number, size: number, done: boolean) => void;
  readonly onCancel: () => void;
}

const KNOB = 6;
const REACH_PIXELS = 13;
// The knob stands clear of caps and hair, which joints do not reach.
const HEAD_ROOM = 1.3;
const [LEAST, MOST] = [0.05, 20];
// About as wide as a figure is, as a share of its height.
const RING_SHARE = 0.45;

export function sizeHand(options: SizeOptions): StageHand {
  const { placeAt, sizeAt, tall, fromAbove } = options;
  const ring = (of: number) => RING_SHARE * tall * of;
  const knobOf = (camera: Camera, [x, , z]: Vec3, size: number) =>
    project(camera, fromAbove ? [x - ring(size), 0, z] : [x, HEAD_ROOM * tall * size, z]);
  const drawnTo = (camera: Camera, place: Vec3, x: number, y: number): number | null => {
    if (fromAbove) {
      const ground = groundUnder(camera, x, y);
      return ground && Math.hypot(ground[0] - place[0], ground[2] - place[2]) / ring(1);
    }
    const low = project(camera, place).y;
    return (low - y) / (low - project(camera, [place[0], HEAD_ROOM * tall, place[2]]).y);
  };
  const whole = (wanted: number) => Math.max(LEAST, Math.min(MOST, Math.round(wanted * 100) / 100));
  return {
    grab: (camera, frame, x, y) => {
      const place = placeAt(frame);
      if (!place) return null;
      const knob = knobOf(camera, place, sizeAt(frame));
      if (Math.hypot(knob.x - x, knob.y - y) > REACH_PIXELS) return null;
      const show = (dx: number, dy: number, done: boolean) => {
        const wanted = drawnTo(camera, place, x + dx, y + dy);
        if (wanted === null) options.onCancel();
        else options.onSize(frame, whole(wanted), done);
      };
      const draw: Draw = {
        onMove: (dx, dy) => show(dx, dy, false),
        onDrop: (dx, dy) => show(dx, dy, true),
        onCancel: options.onCancel,
      };
      return draw;
    },
    paint: (context, camera, frame) => {
      const place = placeAt(frame);
      if (!place) return;
      const size = sizeAt(frame);
      const knob = knobOf(camera, place, size);
      const base = project(camera, place);
      context.save();
      context.lineWidth = 1.6;
      context.strokeStyle = AMBER;
      context.setLineDash([5, 4]);
      context.beginPath();
      if (fromAbove)
        context.arc(base.x, base.y, Math.hypot(knob.x - base.x, knob.y - base.y), 0, Math.PI * 2);
      else {
        context.moveTo(base.x, base.y);
        context.lineTo(knob.x, knob.y);
      }
      context.stroke();
      context.setLineDash([]);
      context.beginPath();
      context.arc(knob.x, knob.y, KNOB, 0, Math.PI * 2);
      context.fillStyle = AMBER;
      context.fill();
      context.lineWidth = 1.6;
      context.strokeStyle = INK;
      context.stroke();
      context.fillStyle = INK;
      context.strokeStyle = SHEET;
      context.lineWidth = 3;
      context.font = '500 12px "Spline Sans Mono", monospace';
      const text = `${Math.round(size * 100)} %`;
      context.strokeText(text, knob.x + 11, knob.y + 4);
      context.fillText(text, knob.x + 11, knob.y + 4);
      context.restore();
    },
  };
}
