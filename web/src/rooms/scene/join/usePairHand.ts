import { useMemo } from 'react';
import { groundUnder } from '../../../stage/ground';
import { drawnMark } from '../../../stage/marks';
import { pairUnder } from '../../../stage/pair';
import type { StageHand } from '../../../stage/Stage';
import type { StagePair, StageView } from '../../../stage/scene';
import { isPlan } from '../../../stage/stagePainter';
import type { Edit, SceneState } from '../useScene';

/** In Plan view the incoming figure of a join is set down and turned by its heading's arrow. */
export function usePairHand(
  pair: StagePair | null,
  view: StageView,
  mayChange: boolean,
  { edit, showPreview }: Pick<SceneState, 'edit' | 'showPreview'>,
): StageHand | undefined {
  const fromAbove = isPlan(view.orbit);
  return useMemo(() => {
    if (!pair || !fromAbove || !mayChange) return undefined;
    return {
      grab: (camera, _frame, x, y) => {
        const hit = pairUnder(camera, pair, x, y);
        if (!hit) return null;
        const to = (dx: number, dy: number): Edit | null => {
          const ground = groundUnder(camera, x + dx, y + dy);
          if (!ground) return null;
          const root = drawnMark(hit.root, hit.grip, ground);
          return { kind: 'place_join', stint: pair.stint, root: [...root] };
        };
        return {
          onMove: (dx, dy) => showPreview(to(dx, dy)),
          onDrop: (dx, dy) => {
            const wanted = to(dx, dy);
            if (wanted) edit(wanted);
            else showPreview(null);
          },
          onCancel: () => showPreview(null),
        };
      },
      paint: () => {},
    };
  }, [pair, fromAbove, mayChange, edit, showPreview]);
}
