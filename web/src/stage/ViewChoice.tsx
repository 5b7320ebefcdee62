import { Choice, IconButton } from '../app/controls';
import { VIEWS, type ViewName } from './camera';
import type { StageView } from './scene';

const VIEW_NAMES = Object.keys(VIEWS) as ViewName[];

interface ViewChoiceProps {
  readonly view: StageView;
  readonly onView: (part: Partial<StageView>) => void;
  readonly frameLabel: string;
  readonly onFrameFigure: () => void;
  /** The scene has a camera to look through. */
  readonly hasCamera?: boolean;
}

type Named = ViewName | 'Camera';

/** From where the stage is seen. */
export function ViewChoice(props: ViewChoiceProps) {
  const { view, onView, frameLabel, onFrameFigure, hasCamera = false } = props;
  const isThrough = hasCamera && !!view.through;
  const names: readonly Named[] = hasCamera ? [...VIEW_NAMES, 'Camera'] : VIEW_NAMES;
  const named = VIEW_NAMES.find(
    (name) => VIEWS[name].yaw === view.orbit.yaw && VIEWS[name].pitch === view.orbit.pitch,
  );
  return (
    <>
      <Choice<Named>
        label="View"
        value={isThrough ? 'Camera' : (named ?? null)}
        onChange={(name) =>
          onView(
            name === 'Camera'
              ? { through: true }
              : { through: false, orbit: { ...VIEWS[name], distance: view.orbit.distance } },
          )
        }
        options={names.map((name, place) => ({
          value: name,
          text: name,
          hint: `${name} view (${place + 1})`,
        }))}
      />
      <IconButton icon="bullseye" label={frameLabel} onClick={onFrameFigure} />
    </>
  );
}
