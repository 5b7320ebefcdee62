import { useEffect, useMemo, useRef, useState } from 'react';
import { Player } from '../../../player/player';
import type { Figure } from '../../../stage/costume';
import { makeCostume } from '../../../stage/costume';
import { Stage } from '../../../stage/Stage';
import type { StageScene, StageView } from '../../../stage/scene';
import { FIRST_TAKES } from '../takesMemory';
import { LIVE, LiveFigure } from './liveFigure';

interface LiveProps {
  readonly production: string;
  readonly figure: Figure;
  /** The run of the stage, and when its clock stood at zero. */
  readonly run: string;
  readonly began: number;
  readonly onGone: () => void;
}

/** Who wears the suit, as they move. */
export function LiveStage({ production, figure, run, began, onGone }: LiveProps) {
  const [player] = useState(() => new Player(() => true));
  const [view, setView] = useState<StageView>(() => ({
    ...FIRST_TAKES.view,
    arcs: { shown: false, joints: [] },
    prints: false,
    watched: LIVE,
    isLive: true,
  }));
  const gone = useRef(onGone);
  gone.current = onGone;
  // Another run of the stage has another clock, and may capture somebody else.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a run never changes its figure
  const scene = useMemo(() => sceneOf(figure), [run]);
  const live = useMemo(
    () => new LiveFigure(production, began, () => gone.current()),
    [production, began],
  );
  useEffect(() => {
    void live.watch();
    return () => live.stop();
  }, [live]);
  const shown = useMemo((): StageScene => ({ ...scene, pose: () => live.pose }), [scene, live]);
  return (
    <div className="stage-picture">
      <Stage
        scene={shown}
        view={view}
        player={player}
        frames={live}
        mayChange={false}
        onOrbit={(orbit) => setView((before) => ({ ...before, orbit }))}
        onShift={(target) => setView((before) => ({ ...before, target, follow: false }))}
        onPick={() => {}}
      />
      <Behind live={live} />
    </div>
  );
}

function sceneOf(figure: Figure): Omit<StageScene, 'pose'> {
  const costume = makeCostume(figure);
  const base = { mark: [0, 0, 0], starts: [], plants: [] } as const;
  return {
    figures: [{ ...base, id: LIVE, name: figure.name, costume }],
    length: 1,
    firstFrame: 0,
    backdrop: 'paper',
  };
}

const TOLD_EVERY_MS = 250;

/** How far the picture is behind the stage. */
function Behind({ live }: { readonly live: LiveFigure }) {
  const [told, setTold] = useState<number | null>(null);
  useEffect(() => {
    const timer = setInterval(
      () => setTold(live.behindMs === null ? null : Math.max(0, Math.round(live.behindMs))),
      TOLD_EVERY_MS,
    );
    return () => clearInterval(timer);
  }, [live]);
  return (
    <p className="live-behind number">
      {told === null ? 'Nothing has come yet …' : `live, ${told} ms behind`}
    </p>
  );
}
