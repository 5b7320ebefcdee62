import { Tick } from '../../app/controls';
import { withKey } from '../../app/shortcuts';
import type { Player } from '../../player/player';
import { GhostChoice } from '../../stage/GhostChoice';
import { GhostFields } from '../../stage/GhostFields';
import { currentTarget } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/scene';
import { ViewChoice } from '../../stage/ViewChoice';

interface StageBarProps {
  readonly view: StageView;
  readonly onView: (part: Partial<StageView>) => void;
  readonly onFrameFigure: () => void;
  readonly scene: StageScene;
  readonly player: Player;
  readonly hasCamera: boolean;
}

/** What is seen on the stage, and from where. */
export function StageBar({ view, onView, onFrameFigure, scene, player, hasCamera }: StageBarProps) {
  const { ghosts, arcs } = view;
  const setGhosts = (part: Partial<StageView['ghosts']>) =>
    onView({ ghosts: { ...ghosts, ...part } });
  return (
    <div className="stage-bar">
      <ViewChoice
        view={view}
        onView={onView}
        frameLabel={withKey('Bring the figure to the middle', 'frameFigure')}
        onFrameFigure={onFrameFigure}
        hasCamera={hasCamera}
      />
      <span className="grow" />
      <GhostChoice
        ghosts={ghosts}
        onGhosts={setGhosts}
        hint={withKey('Neighbouring poses drawn through', 'ghosts')}
        name={`Ghosts: ${ghosts.count} on either side, ${ghosts.step} frames apart`}
        short={
          <span className="number">
            {ghosts.count} × {ghosts.step}
          </span>
        }
      >
        <GhostFields ghosts={ghosts} onGhosts={setGhosts} />
        <Tick
          label="Only within the loop"
          checked={ghosts.inLoop}
          onChange={(inLoop) => setGhosts({ inLoop })}
        />
      </GhostChoice>
      <Tick
        label="Arcs"
        hint={withKey('The path of joints: press one on the stage', 'arcs')}
        checked={arcs.shown}
        onChange={(shown) => onView({ arcs: { ...arcs, shown } })}
      />
      <Tick
        label="Prints"
        hint={withKey('Foot plants on the ground', 'prints')}
        checked={view.prints}
        onChange={(prints) => onView({ prints })}
      />
      <Tick
        label="Plan"
        hint={withKey('The paths from above', 'planInset')}
        checked={view.planInset}
        onChange={(planInset) => onView({ planInset })}
      />
      {hasCamera && (
        <Tick
          label="Camera"
          hint="What the scene’s camera sees, and where it stands"
          checked={!!view.cameraInset}
          onChange={(cameraInset) => onView({ cameraInset })}
        />
      )}
      <Tick
        label="Follow"
        hint={withKey('The view goes with the figure', 'follow')}
        checked={view.follow}
        onChange={(follow) => onView({ follow, target: currentTarget(scene, view, player) })}
      />
    </div>
  );
}
