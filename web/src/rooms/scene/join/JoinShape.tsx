import type { Schemas } from '../../../api/client';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { Name } from '../../../app/Name';
import type { Edit } from '../useScene';

type Shape = Schemas['DeskJoin']['shape'];

interface JoinShapeProps {
  readonly join: Schemas['DeskJoin'];
  readonly disabled: boolean;
  readonly onEdit: (edit: Edit) => void;
}

/** How the weight runs through a join, and whether the upper body has a way of its own. */
export function JoinShape({ join, disabled, onEdit }: JoinShapeProps) {
  const stint = join.incoming;
  return (
    <section aria-label="Shape">
      <h3>Shape</h3>
      <OneShape
        label="Shape of the join"
        shape={join.shape}
        slopes={join.slopes as [number, number]}
        disabled={disabled}
        onShape={(shape) => onEdit({ kind: 'set_join', stint, shape })}
        onSlopes={(slopes) => onEdit({ kind: 'set_join', stint, slopes })}
      />
      <p className="button-line">
        <Tick
          label="Upper body its own way"
          hint="The arms, the back and the head hand over by another shape than root and legs"
          checked={join.upper_shape !== null}
          disabled={disabled}
          onChange={(own) =>
            onEdit({ kind: 'set_join', stint, upper_shape: own ? join.shape : 'same' })
          }
        />
      </p>
      {join.upper_shape !== null && (
        <OneShape
          label="Shape of the join for the upper body"
          shape={join.upper_shape}
          slopes={join.upper_slopes as [number, number]}
          disabled={disabled}
          onShape={(upper_shape) => onEdit({ kind: 'set_join', stint, upper_shape })}
          onSlopes={(upper_slopes) => onEdit({ kind: 'set_join', stint, upper_slopes })}
        />
      )}
    </section>
  );
}

interface OneShapeProps {
  readonly label: string;
  readonly shape: Shape;
  readonly slopes: [number, number];
  readonly disabled: boolean;
  readonly onShape: (shape: Shape) => void;
  readonly onSlopes: (slopes: [number, number]) => void;
}

const SHAPES: readonly { value: Shape; name: string; line: string }[] = [
  { value: 'even', name: 'Even', line: 'M2 16L32 2' },
  { value: 'smooth', name: 'Smooth', line: 'M2 16C16 16 18 2 32 2' },
  { value: 'early', name: 'Early', line: 'M2 16C6 5 14 2 32 2' },
  { value: 'late', name: 'Late', line: 'M2 16C20 16 28 13 32 2' },
];
const STEEPEST = 3;

function OneShape({ label, shape, slopes, disabled, onShape, onSlopes }: OneShapeProps) {
  const shapes = [...SHAPES, { value: 'free' as const, name: 'Free', line: lineOf(slopes) }];
  return (
    <>
      <Choice
        label={label}
        className="shape-choice"
        disabled={disabled}
        value={shape}
        onChange={onShape}
        options={shapes.map(({ value, name, line }) => ({
          value,
          text: (
            <>
              <svg viewBox="0 0 34 18" aria-hidden="true">
                <path d={line} />
              </svg>
              <Name text={name} />
            </>
          ),
        }))}
      />
      {shape === 'free' && (
        <FieldLine name="Slopes">
          <span className="pair">
            {(['start', 'end'] as const).map((end, place) => (
              <NumberBox
                key={end}
                label={`${label}: slope at its ${end}`}
                value={slopes[place]}
                decimals={2}
                unit={end}
                smallest={0}
                largest={STEEPEST}
                disabled={disabled}
                onCommit={(slope) =>
                  onSlopes(place === 0 ? [slope, slopes[1]] : [slopes[0], slope])
                }
              />
            ))}
          </span>
        </FieldLine>
      )}
    </>
  );
}

/** The same cubic, as a picture of 30 by 14. */
function lineOf([start, end]: [number, number]): string {
  return `M2 16C12 ${16 - (14 * start) / 3} 22 ${2 + (14 * end) / 3} 32 2`;
}
