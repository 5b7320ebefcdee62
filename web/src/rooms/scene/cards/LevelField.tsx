import { FieldLine, NumberBox } from '../../../app/controls';

const [LEAST_DB, MOST_DB] = [-60, 12];

interface LevelProps {
  readonly of: string;
  readonly level: number;
  readonly disabled: boolean;
  readonly onLevel: (level: number) => void;
}

/** How much louder or softer something is played than it was recorded. */
export function LevelField({ of, level, disabled, onLevel }: LevelProps) {
  return (
    <FieldLine name="Level">
      <NumberBox
        label={`How much louder or softer ${of} is, in decibels`}
        value={level}
        decimals={1}
        unit="dB"
        smallest={LEAST_DB}
        largest={MOST_DB}
        disabled={disabled}
        onCommit={onLevel}
      />
    </FieldLine>
  );
}
