import { useMemo } from 'react';
import { newId } from '../../api/newId';
import type { Selection } from '../../desk/selection';
import type { LaidHead } from '../../player/laidHead';
import { guideHand } from '../../stage/guideHand';
import type { StageHand } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { isPlan, targetAt } from '../../stage/stagePainter';
import type { Vec3 } from '../../stage/vector';
import type { Edit, Scene, SceneState } from './useScene';

export interface Guiding {
  /** A guide on the ground where one looks, keyed at the playhead. */
  readonly add: () => void;
  /** Key a guide at the playhead where it is now. */
  readonly keyHere: (id: string) => void;
  /** While a guide is chosen, drawing it on the stage keys it. */
  readonly hand: StageHand | undefined;
}

interface GuidingParts {
  readonly scene: Scene;
  readonly state: SceneState;
  readonly stage: StageScene;
  readonly view: StageView;
  readonly head: LaidHead;
  readonly selection: Selection | null;
  readonly onSelect: (selection: Selection) => void;
}

const DEGREES = 180 / Math.PI;

/** Guides: set down, and keyed by hand while one is chosen. */
export function useGuiding(parts: GuidingParts): Guiding {
  const { scene, state, stage, view, head, selection, onSelect } = parts;
  const id = selection?.kind === 'guide' ? selection.id : null;
  const row = scene.desk.guides.find((guide) => guide.id === id);
  const { edit, showPreview } = state;
  const fromAbove = isPlan(view.orbit);
  const own = row ? head.on(row) : head;
  const isOpen = scene.may_change;
  const hand = useMemo(() => {
    const guide = stage.guides?.find((other) => other.id === id);
    if (!guide || !isOpen) return undefined;
    return guideHand({
      guide,
      fromAbove,
      onKey: (frame, place, heading, done) => {
        head.pause();
        const wanted: Edit = {
          kind: 'key_guide',
          guide: guide.id,
          frame: Math.round(own.laidAt(frame)),
          place: [...place],
          heading_degrees: heading * DEGREES,
          by_hand: true,
        };
        if (!done) {
          showPreview(wanted);
          return;
        }
        edit(wanted);
        onSelect({ kind: 'guide', id: guide.id, key: wanted.frame });
      },
      onCancel: () => showPreview(null),
    });
  }, [stage, id, isOpen, fromAbove, own, head, edit, showPreview, onSelect]);
  return {
    hand,
    add: () => {
      const [x, , z] = targetAt(stage, view, head.played);
      const guide = newId();
      const place: Vec3 = [Math.round(x * 100) / 100, 0, Math.round(z * 100) / 100];
      const heading_degrees = 0;
      edit({ kind: 'add_guide', guide, frame: head.frame, place: [...place], heading_degrees });
      onSelect({ kind: 'guide', id: guide, key: head.frame });
    },
    keyHere: (wanted) => {
      const at = stage.guides?.find((other) => other.id === wanted)?.at(head.played);
      if (!at) return;
      const [x, y, z, heading] = at;
      const frame = Math.round(own.laidAt(head.played));
      edit({
        kind: 'key_guide',
        guide: wanted,
        frame,
        place: [x, y, z],
        heading_degrees: heading * DEGREES,
        by_hand: true,
      });
      onSelect({ kind: 'guide', id: wanted, key: frame });
    },
  };
}
