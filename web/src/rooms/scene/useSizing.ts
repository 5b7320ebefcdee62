import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Selection } from '../../desk/selection';
import type { LaidHead } from '../../player/laidHead';
import type { StageHand } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { sizeHand } from '../../stage/sizeHand';
import { isPlan } from '../../stage/stagePainter';
import { bodyQuery } from './bodyQuery';
import type { Edit, Scene, SceneState } from './useScene';

interface SizingParts {
  readonly scene: Scene;
  readonly state: SceneState;
  readonly stage: StageScene;
  readonly view: StageView;
  readonly selection: Selection | null;
  readonly head: LaidHead;
}

/** While a figure is chosen its size is drawn on the stage. */
export function useSizing({ scene, state, stage, view, selection, head }: SizingParts) {
  const id = selection?.kind === 'figure' ? selection.id : null;
  const member = scene.desk.figures.find((other) => other.id === id);
  const { data: body } = useQuery({ ...bodyQuery(member?.figure ?? ''), enabled: !!member });
  const fromAbove = isPlan(view.orbit);
  const { edit, showPreview } = state;
  const isOpen = scene.may_change;
  return useMemo((): StageHand | undefined => {
    if (!member || !body || !isOpen) return undefined;
    const isKeyed = member.id in scene.desk.size_keys;
    // Once it is keyed, what is drawn is keyed at the playhead.
    const wanted = (frame: number, size: number): Edit =>
      isKeyed
        ? { kind: 'key_size', figure: member.id, frame: head.laidAt(frame), size }
        : { kind: 'set_size', figure: member.id, size };
    return sizeHand({
      placeAt: (frame) => {
        const pose = stage.pose(member.id, frame);
        return pose && [pose.positions[0], 0, pose.positions[2]];
      },
      sizeAt: (frame) => stage.pose(member.id, frame)?.scales?.[1] ?? 1,
      tall: body.height_metres,
      fromAbove,
      onSize: (frame, size, done) =>
        done ? edit(wanted(frame, size)) : showPreview(wanted(frame, size)),
      onCancel: () => showPreview(null),
    });
  }, [member, body, stage, scene.desk.size_keys, isOpen, fromAbove, head, edit, showPreview]);
}
