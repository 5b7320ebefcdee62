import { Choice, Tick } from '../../app/controls';
import { ViewChoice } from '../../stage/ViewChoice';
import type { TakesRoomParts } from './room';
import { withTakesKey } from './takesKeys';
import type { Compare } from './takesMemory';

interface BarProps {
  readonly room: TakesRoomParts;
  readonly onFrameFigure: () => void;
}

/** From where the stage is seen, and how captured and cleaned stand to each other. */
export function CompareBar({ room, onFrameFigure }: BarProps) {
  const { memory, change, onView } = room;
  const { view, compare } = memory;
  return (
    <div className="stage-bar" role="toolbar" aria-label="View">
      <ViewChoice
        view={view}
        onView={onView}
        frameLabel={withTakesKey('Bring the figure to the middle', 'frameFigure')}
        onFrameFigure={onFrameFigure}
      />
      <span className="grow" />
      <Choice<Compare>
        label="Compare"
        value={compare}
        onChange={(wanted) => change({ compare: wanted })}
        options={[
          { value: 'beside', text: 'Beside', hint: withTakesKey('Side by side', 'beside') },
          { value: 'under', text: 'Under', hint: 'As captured under it, in blue pencil' },
          {
            value: 'captured',
            text: 'Captured',
            hint: withTakesKey('As captured alone', 'flip'),
          },
          { value: 'cleaned', text: 'Cleaned', hint: withTakesKey('Cleaned alone', 'flip') },
        ]}
      />
      <Tick
        label="Ghosts"
        hint={withTakesKey('Neighbouring poses', 'ghosts')}
        checked={view.ghosts.shown}
        onChange={(shown) => onView({ ghosts: { ...view.ghosts, shown } })}
      />
      <Tick
        label="Arcs"
        hint={withTakesKey('Paths of the chosen joints, in both', 'arcs')}
        checked={view.arcs.shown}
        onChange={(shown) => onView({ arcs: { ...view.arcs, shown } })}
      />
      <Tick
        label="Plants"
        hint={withTakesKey('Feet on the ground', 'prints')}
        checked={view.prints}
        onChange={(prints) => onView({ prints })}
      />
    </div>
  );
}

/** Which is which, in words: blue pencil is before, ink is after. */
export function CompareTags({ room }: { readonly room: TakesRoomParts }) {
  const { cleaned, memory } = room;
  const { compare } = memory;
  if (!cleaned) return null;
  const slides = [cleaned.captured_slide_cm, cleaned.slide_cm] as const;
  return (
    <div className="compare-tags" data-compare={compare}>
      {compare !== 'cleaned' && <Tag name="As captured" slide={slides[0]} isBefore />}
      {compare !== 'captured' && <Tag name="Cleaned" slide={slides[1]} isBefore={false} />}
    </div>
  );
}

interface TagProps {
  readonly name: string;
  readonly slide: number | null | undefined;
  readonly isBefore: boolean;
}

function Tag({ name, slide, isBefore }: TagProps) {
  return (
    <p className={`paper-tag ${isBefore ? 'is-before' : 'is-after'}`}>
      <b>{name}</b>
      {slide !== null && slide !== undefined && (
        <span>
          foot slide <span className="number">{slide.toFixed(1)} cm</span>
        </span>
      )}
    </p>
  );
}
