import { Dropdown } from 'react-bootstrap';
import { Choice, IconButton, NumberBox, Tick } from '../../app/controls';
import { withKey } from '../../app/shortcuts';
import type { Player } from '../../player/player';
import { VIEWS, type ViewName } from '../../stage/camera';
import { currentTarget } from '../../stage/Stage';
import type { StageScene, StageView } from '../../stage/stagePainter';

interface StageBarProps {
  readonly view: StageView;
  readonly onView: (part: Partial<StageView>) => void;
  readonly onFrameFigure: () => void;
  readonly scene: StageScene;
  readonly player: Player;
}

export const VIEW_NAMES = Object.keys(VIEWS) as ViewName[];

/** What is seen on the stage, and from where. */
export function StageBar({ view, onView, onFrameFigure, scene, player }: StageBarProps) {
  const named = VIEW_NAMES.find(
    (name) => VIEWS[name].yaw === view.orbit.yaw && VIEWS[name].pitch === view.orbit.pitch,
  );
  const { ghosts, arcs } = view;
  const setGhosts = (part: Partial<StageView['ghosts']>) =>
    onView({ ghosts: { ...ghosts, ...part } });
  return (
    <div className="stage-bar">
      <Choice<ViewName>
        label="View"
        value={named ?? null}
        onChange={(name) => onView({ orbit: { ...VIEWS[name], distance: view.orbit.distance } })}
        options={VIEW_NAMES.map((name, place) => ({
          value: name,
          text: name,
          hint: `${name} view (${place + 1})`,
        }))}
      />
      <IconButton
        icon="bullseye"
        label={withKey('Bring the figure to the middle', 'frameFigure')}
        onClick={onFrameFigure}
      />
      <span className="grow" />
      <span className="ghost-choice">
        <Tick
          label="Ghosts"
          hint={withKey('Neighbouring poses drawn through', 'ghosts')}
          checked={ghosts.shown}
          onChange={(shown) => setGhosts({ shown })}
        />
        <Dropdown align="end">
          <Dropdown.Toggle
            bsPrefix="quiet-toggle number"
            as="button"
            aria-label={`Ghosts: ${ghosts.count} on either side, ${ghosts.step} frames apart`}
            disabled={!ghosts.shown}
          >
            {ghosts.count} × {ghosts.step}
          </Dropdown.Toggle>
          <Dropdown.Menu className="ghost-menu">
            <div className="field-line">
              <span>On either side</span>
              <NumberBox
                label="Ghosts on either side"
                value={ghosts.count}
                smallest={1}
                onCommit={(count) => setGhosts({ count: Math.min(6, Math.round(count)) })}
              />
            </div>
            <div className="field-line">
              <span>Frames apart</span>
              <NumberBox
                label="Frames between ghosts"
                value={ghosts.step}
                smallest={1}
                onCommit={(step) => setGhosts({ step: Math.round(step) })}
              />
            </div>
            <Tick
              label="Only within the loop"
              checked={ghosts.inLoop}
              onChange={(inLoop) => setGhosts({ inLoop })}
            />
          </Dropdown.Menu>
        </Dropdown>
      </span>
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
      <Tick
        label="Follow"
        hint={withKey('The view goes with the figure', 'follow')}
        checked={view.follow}
        onChange={(follow) => onView({ follow, target: currentTarget(scene, view, player) })}
      />
    </div>
  );
}
