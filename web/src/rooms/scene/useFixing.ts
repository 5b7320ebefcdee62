import { useQuery } from '@tanstack/react-query';
import { useMemo, useRef, useState } from 'react';
import type { Schemas } from '../../api/client';
import type { PoseChange } from '../../api/clips';
import { newId } from '../../api/newId';
import { fixLaneOf, type Selection } from '../../desk/selection';
import type { LaidHead } from '../../player/laidHead';
import { poseHand } from '../../stage/poseHand';
import type { StageHand } from '../../stage/Stage';
import type { StageScene } from '../../stage/scene';
import { useHeldAxis } from '../../stage/useHeldAxis';
import { bodyQuery } from './bodyQuery';
import type { Edit, Scene, SceneState } from './useScene';

/** How a new fix comes and goes, and whether the other side is posed alike. */
export interface FixOptions {
  readonly fadeIn: number;
  readonly fadeOut: number;
  readonly bothSides: boolean;
}

interface Fixing {
  /** The lane that what is drawn is kept on. */
  readonly lane: Schemas['DeskLane'];
  readonly hand: StageHand;
}

interface FixingParts {
  readonly scene: Scene;
  readonly state: SceneState;
  readonly stage: StageScene;
  readonly head: LaidHead;
  readonly selection: Selection | null;
  readonly options: FixOptions;
  readonly onSelect: (selection: Selection) => void;
}

/** While a fix lane is chosen its figure is posed on the stage; at no other time. */
export function useFixing(parts: FixingParts): Fixing | null {
  const { scene, state, stage, head, selection } = parts;
  const { desk } = scene;
  const lane = fixLaneOf(desk, selection);
  const member = desk.figures.find((other) => other.id === lane?.figure);
  const { data: body } = useQuery({ ...bodyQuery(member?.figure ?? ''), enabled: !!member });
  const [joints, setJoints] = useState<readonly string[]>([]);
  const axis = useHeldAxis();
  const latest = useRef(parts);
  latest.current = parts;
  // One name for all that one draw shows.
  const drawn = useRef<string | null>(null);
  const isOpen = lane !== null && scene.may_change && lane.plays;
  const { edit, showPreview } = state;
  return useMemo(() => {
    if (!lane || !member || !body || !isOpen) return null;
    const posed = (frame: number, change: PoseChange): Edit & { kind: 'pose_fix' } => {
      drawn.current ??= newId();
      const { fadeIn, fadeOut, bothSides } = latest.current.options;
      return {
        kind: 'pose_fix',
        lane: lane.id,
        frame,
        fix: drawn.current,
        changes: [change],
        on_both_sides: bothSides,
        fade_in: fadeIn,
        fade_out: fadeOut,
      };
    };
    const hand = poseHand({
      body: body.joints,
      scene: stage,
      figure: member.id,
      joints,
      shown: true,
      mayChange: true,
      heldAxis: () => axis.current,
      onPick: (joint, adding) =>
        setJoints((before) =>
          adding
            ? before.includes(joint)
              ? before.filter((other) => other !== joint)
              : [...before, joint]
            : [joint],
        ),
      onDraw: (frame, change, done) => {
        head.pause();
        const at = head.laidAt(frame);
        const wanted = posed(at, change);
        if (!done) {
          showPreview(wanted);
          return;
        }
        drawn.current = null;
        edit(wanted);
        const standing = lane.fixes?.find((fix) => fix.at <= at && at <= fix.stands_to);
        latest.current.onSelect({ kind: 'fix', id: standing?.id ?? wanted.fix });
      },
      onCancel: () => {
        drawn.current = null;
        showPreview(null);
      },
    });
    return { lane, hand };
  }, [lane, member, body, isOpen, joints, stage, axis, head, edit, showPreview]);
}
