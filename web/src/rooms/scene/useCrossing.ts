import { useMemo, useRef, useState } from 'react';
import type { Schemas } from '../../api/client';
import { findStint } from '../../desk/selection';
import { groundUnder, paintWay } from '../../stage/ground';
import type { StageHand } from '../../stage/Stage';
import type { StageView } from '../../stage/scene';
import { isPlan } from '../../stage/stagePainter';
import type { Vec3 } from '../../stage/vector';
import type { Edit, Scene, SceneState } from './useScene';

type Stint = Schemas['DeskStint'];
type Place = readonly [number, number];

interface CrossOptions {
  /** As long as the stint is, where nothing was said. */
  readonly frames: number | null;
  readonly stride: 'made' | 'fitted';
}

export interface Crossing {
  readonly options: CrossOptions;
  readonly onOptions: (options: CrossOptions) => void;
  readonly edit: (stint: Stint, start: Place, to: Place) => Edit;
  /** The stint whose way is drawn on the ground now. */
  readonly drawn: string | null;
  readonly draw: (stint: string | null) => void;
  readonly hand: StageHand | undefined;
}

interface CrossingParts {
  readonly scene: Scene;
  readonly state: SceneState;
  readonly view: StageView;
  readonly ripple: boolean;
  /** Look from above. */
  readonly onPlan: () => void;
}

/** Walks that cross the stage: how, and the hand that draws their way in Plan while it is asked for. */
export function useCrossing({ scene, state, view, ripple, onPlan }: CrossingParts): Crossing {
  const [options, onOptions] = useState<CrossOptions>({ frames: null, stride: 'made' });
  const [asked, setAsked] = useState<string | null>(null);
  const stint = (asked && findStint(scene.desk, asked)?.stint) || null;
  const fromAbove = isPlan(view.orbit);
  const isOpen = stint !== null && fromAbove && scene.may_change;
  const { edit: make, showPreview } = state;
  const edit = useMemo(
    () =>
      (walk: Stint, start: Place, to: Place): Edit => ({
        kind: 'cross_stage',
        stint: walk.id,
        start: [...start],
        to: [...to],
        frames: options.frames ?? Math.round(walk.end - walk.start),
        stride: options.stride,
        ripple,
      }),
    [options, ripple],
  );
  // What is drawn now outlives the hand: each preview makes another one.
  const way = useRef<{ readonly from: Vec3; readonly to: Vec3 } | null>(null);
  const hand = useMemo((): StageHand | undefined => {
    if (!isOpen || !stint) return undefined;
    return {
      grab: (camera, _frame, x, y) => {
        const from = groundUnder(camera, x, y);
        if (!from) return null;
        const to = (dx: number, dy: number): Edit | null => {
          const there = groundUnder(camera, x + dx, y + dy);
          if (!there) return null;
          way.current = { from, to: there };
          return edit(stint, [from[0], from[2]], [there[0], there[2]]);
        };
        return {
          onMove: (dx, dy) => showPreview(to(dx, dy)),
          onDrop: (dx, dy) => {
            const wanted = to(dx, dy);
            way.current = null;
            setAsked(null);
            if (wanted) make(wanted);
            else showPreview(null);
          },
          onCancel: () => {
            way.current = null;
            showPreview(null);
          },
        };
      },
      paint: (context, camera) => {
        if (way.current) paintWay(context, camera, way.current.from, way.current.to);
      },
    };
  }, [isOpen, stint, edit, make, showPreview]);
  return {
    options,
    onOptions,
    edit,
    drawn: stint && fromAbove ? asked : null,
    draw: (wanted) => {
      setAsked(wanted);
      if (wanted) onPlan();
    },
    hand,
  };
}
