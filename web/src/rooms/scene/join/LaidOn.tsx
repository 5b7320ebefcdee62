import type { Schemas } from '../../../api/client';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import type { Edit } from '../useScene';

const FEET = [
  { value: 'left', text: 'Left', hint: 'The incoming left foot lies on the outgoing one' },
  { value: 'right', text: 'Right', hint: 'The incoming right foot lies on the outgoing one' },
  { value: 'both', text: 'Both', hint: 'The middle between both feet lies on the outgoing one’s' },
  { value: 'none', text: 'Root', hint: 'No foot: the root lies on the outgoing root' },
] as const;

const HEADINGS = [
  { value: 'keep', text: 'Keep', hint: 'The figure goes on the way it went' },
  { value: 'feet', text: 'By feet', hint: 'Turned until both feet lie along the outgoing ones' },
  { value: 'placed', text: 'As placed', hint: 'As the clip was made, seen from the figure’s mark' },
] as const;

interface LaidOnProps {
  readonly join: Schemas['DeskJoin'];
  readonly isNailed: boolean;
  readonly incoming: string;
  readonly disabled: boolean;
  readonly onEdit: (edit: Edit) => void;
}

/** How the incoming clip is laid on the outgoing one's ground, and whether feet stand through the join. */
export function LaidOn({ join, isNailed, incoming, disabled, onEdit }: LaidOnProps) {
  const stint = join.incoming;
  const { plant = 'none', heading = 'keep', nudge = [0, 0, 0] } = join.alignment;
  const [aside, ahead, turn] = nudge;
  const locked = disabled || isNailed;
  const nudged = (place: 0 | 1 | 2, value: number) => {
    const wanted: [number, number, number] = [aside, ahead, turn];
    wanted[place] = value;
    onEdit({ kind: 'set_join', stint, nudge: wanted });
  };
  return (
    <section aria-label="Laid on the ground">
      <h3>
        Laid on <em>which foot stands on which</em>
      </h3>
      <Choice
        label="Planted foot that is laid on the other"
        className="segment is-wide"
        disabled={locked}
        value={plant}
        onChange={(wanted) => onEdit({ kind: 'set_join', stint, plant: wanted })}
        options={FEET}
      />
      <FieldLine name="Heading">
        <Choice
          label="Heading of the incoming clip"
          disabled={locked}
          value={heading}
          onChange={(wanted) => onEdit({ kind: 'set_join', stint, heading: wanted })}
          options={HEADINGS}
        />
      </FieldLine>
      <FieldLine name="Fine">
        <span className="pair">
          <NumberBox
            label="Fine turn in degrees"
            value={(turn * 180) / Math.PI}
            decimals={1}
            unit="°"
            smallest={-180}
            largest={180}
            disabled={locked}
            onCommit={(degrees) => nudged(2, (degrees * Math.PI) / 180)}
          />
          <NumberBox
            label="Fine shift to the side in centimetres"
            value={aside * 100}
            decimals={1}
            unit="cm aside"
            disabled={locked}
            onCommit={(centimetres) => nudged(0, centimetres / 100)}
          />
          <NumberBox
            label="Fine shift ahead in centimetres"
            value={ahead * 100}
            decimals={1}
            unit="ahead"
            disabled={locked}
            onCommit={(centimetres) => nudged(1, centimetres / 100)}
          />
        </span>
      </FieldLine>
      <p className="button-line">
        <Tick
          label="Hold the feet"
          hint="Planted feet stand still through the join; the root is lowered where a leg is too short"
          checked={join.holds_feet}
          disabled={disabled}
          onChange={(holds_feet) => onEdit({ kind: 'set_join', stint, holds_feet })}
        />
        <Tick
          label="Nailed down"
          hint={`${incoming} stays on its spot, whatever comes before`}
          checked={isNailed}
          disabled={disabled}
          onChange={(nailed) => onEdit({ kind: 'nail_stint', stint, nailed })}
        />
      </p>
    </section>
  );
}
