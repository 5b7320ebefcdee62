import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import type { FixOptions } from '../useFixing';
import type { CardProps } from './card';

interface LaneFixesProps extends Pick<CardProps, 'desk' | 'head' | 'onSelect'> {
  readonly lane: Schemas['DeskLane'];
  readonly fixes: readonly Schemas['DeskFix'][];
  readonly options: FixOptions;
  readonly onOptions: (options: FixOptions) => void;
  readonly disabled: boolean;
}

/** What a fix lane corrects, and how its next fix comes and goes. */
export function LaneFixes(props: LaneFixesProps) {
  const { desk, head, lane, fixes, options, onOptions, onSelect, disabled } = props;
  return (
    <section aria-label="Fixes of the lane">
      <p className="quiet">
        {lane.plays
          ? `While this lane is chosen ${lane.figure_name} is posed on the stage: draw a hand or a foot, the root, or the ring of a joint. The difference is kept here, at the playhead.`
          : 'This lane does not play: nothing can be posed on it.'}
      </p>
      <h3>The next one</h3>
      <FieldLine name="Fades in, out">
        <span className="pair">
          <NumberBox
            label="Frames that a new fix comes in over"
            value={options.fadeIn}
            unit="fr"
            smallest={0}
            disabled={disabled}
            onCommit={(fadeIn) => onOptions({ ...options, fadeIn })}
          />
          <NumberBox
            label="Frames that a new fix goes out over"
            value={options.fadeOut}
            unit="fr"
            smallest={0}
            disabled={disabled}
            onCommit={(fadeOut) => onOptions({ ...options, fadeOut })}
          />
        </span>
      </FieldLine>
      <Tick
        label="Both sides alike"
        hint="The other side is posed as a mirror shows it"
        checked={options.bothSides}
        disabled={disabled}
        onChange={(bothSides) => onOptions({ ...options, bothSides })}
      />
      <ul className="plain-list">
        {fixes.map((fix) => (
          <li key={fix.id}>
            <button
              type="button"
              className="link-button"
              onClick={() => {
                head.goTo(fix.at);
                onSelect({ kind: 'fix', id: fix.id });
              }}
            >
              Fix at {fix.at + desk.first_frame}
            </button>
            <span className="quiet">
              {fix.joints
                .slice(0, 2)
                .map((joint) => joint.label)
                .join(', ')}
              {fix.joints.length > 2 && ` and ${fix.joints.length - 2} more`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
