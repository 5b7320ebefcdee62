import { useMemo, useRef } from 'react';
import type { Lens } from '../../api/framePack';
import type { Selection } from '../../desk/selection';
import type { LaidHead } from '../../player/laidHead';
import { lensCamera, orbitCamera, orbitOf } from '../../stage/camera';
import type { StageHand } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { targetAt } from '../../stage/stagePainter';
import { add, scale, type Vec3 } from '../../stage/vector';
import type { Edit, Scene, SceneState } from './useScene';

export interface Framing {
  readonly isThrough: boolean;
  /** Look through the camera, or step away from it. */
  readonly lookThrough: () => void;
  /** Key the camera at the playhead, where one looks from. */
  readonly keyThisView: () => void;
  /** While the camera is chosen and looked through, drawing on the stage keys it. */
  readonly hand: StageHand | undefined;
}

interface FramingParts {
  readonly scene: Scene;
  readonly state: SceneState;
  readonly stage: StageScene;
  readonly view: StageView;
  readonly head: LaidHead;
  readonly selection: Selection | null;
  readonly onView: (part: Partial<StageView>) => void;
  readonly onSelect: (selection: Selection) => void;
}

const DEGREES_PER_PIXEL = 0.3;
const HIGHEST = 89;

/** Framing: the scene’s camera keyed by what is seen, and by hand while it is chosen and looked through. */
export function useFraming(parts: FramingParts): Framing {
  const { scene, state, stage, view, head, selection, onView } = parts;
  const { camera } = scene.desk;
  const isThrough = !!view.through && camera !== null;
  const isOpen = isThrough && selection?.kind === 'camera' && scene.may_change;
  const latest = useRef(parts);
  latest.current = parts;
  const { edit, showPreview } = state;

  const keyThisView = () => {
    const look = targetAt(stage, view, head.played);
    const free = orbitCamera(view.orbit, look, 16, 9);
    const through = isThrough ? stage.lens?.(head.played) : null;
    const lens = through ?? { eye: free.eye, look, roll: 0, zoom: 1 };
    edit(keyed(lens, head, head.played));
    parts.onSelect({ kind: 'camera', key: Math.round(head.laidAt(head.played)) });
  };
  const hand = useMemo((): StageHand | undefined => {
    if (!isOpen) return undefined;
    return {
      grab: (_camera, frame, _x, _y, event) => {
        const lens = stage.lens?.(frame);
        if (!lens) return null;
        const along = event.shiftKey;
        const own = lensCamera(lens, 16, 9);
        const from = orbitOf(lens);
        const to = (dx: number, dy: number): Edit => {
          if (along) {
            const metres = (from.distance / 500) * (1 / lens.zoom);
            const by = add(scale(own.right, -dx * metres), scale(own.up, dy * metres));
            const moved = {
              ...lens,
              eye: add(lens.eye as Vec3, by),
              look: add(lens.look as Vec3, by),
            };
            return keyed(moved, head, frame);
          }
          const pitch = Math.max(-HIGHEST, Math.min(HIGHEST, from.pitch + dy * DEGREES_PER_PIXEL));
          const yaw = from.yaw - dx * DEGREES_PER_PIXEL;
          return keyed(
            { ...lens, eye: eyeAt(lens.look as Vec3, yaw, pitch, from.distance) },
            head,
            frame,
          );
        };
        return {
          onMove: (dx, dy) => {
            head.pause();
            showPreview(to(dx, dy));
          },
          onDrop: (dx, dy) => {
            edit(to(dx, dy));
            latest.current.onSelect({ kind: 'camera', key: Math.round(head.laidAt(frame)) });
          },
          onCancel: () => showPreview(null),
        };
      },
      paint: () => {},
    };
  }, [isOpen, stage, head, edit, showPreview]);
  return { isThrough, lookThrough: () => onView({ through: !isThrough }), keyThisView, hand };
}

const keyed = (lens: Lens, head: LaidHead, frame: number): Edit => ({
  kind: 'key_camera',
  frame: Math.round(head.laidAt(frame)),
  eye: [...lens.eye],
  look: [...lens.look],
  roll: lens.roll,
  zoom: lens.zoom,
});

function eyeAt(look: Vec3, yaw: number, pitch: number, distance: number): Vec3 {
  const [turn, tilt] = [yaw, pitch].map((degrees) => (degrees * Math.PI) / 180);
  const level = Math.cos(tilt) * distance;
  return add(look, [Math.sin(turn) * level, Math.sin(tilt) * distance, Math.cos(turn) * level]);
}
