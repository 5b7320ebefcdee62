import { Choice, IconButton } from '../app/controls';
import { VIEWS, type ViewName } from './camera';
import type { StageView } from './scene';

const VIEW_NAMES = Object.keys(VIEWS) as ViewName[];

interface ViewChoiceProps {
  readonly view: StageView;
  readonly onView: (part: Partial<StageView>) => void;
  readonly frameLabel: string;
  readonly onFrameFigure: () => void;
}

/** From where the stage is seen. */
export function ViewChoice({ view, onView, frameLabel, onFrameFigure }: ViewChoiceProps) {
  const named = VIEW_NAMES.find(
    (name) => VIEWS[name].yaw === view.orbit.yaw && VIEWS[name].pitch === view.orbit.pitch,
  );
  return (
    <>
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
      <IconButton icon="bullseye" label={frameLabel} onClick={onFrameFigure} />
    </>
  );
}
