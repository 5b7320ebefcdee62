import { NumberBox } from '../../app/controls';

type Mark = [number, number, number];

interface MarkProps {
  /** x, z in metres, and the heading in radians. */
  readonly mark: Mark;
  readonly disabled: boolean;
  readonly onMark: (mark: Mark) => void;
}

/** The mark on the ground at which the take is to start. */
export function MarkNumbers({ mark, disabled, onMark }: MarkProps) {
  const [x, z, heading] = mark;
  return (
    <span className="mark-numbers">
      <NumberBox
        label="The mark’s x in metres"
        value={x}
        decimals={2}
        unit="m x"
        smallest={-1000}
        largest={1000}
        disabled={disabled}
        onCommit={(wanted) => onMark([wanted, z, heading])}
      />
      <NumberBox
        label="The mark’s z in metres"
        value={z}
        decimals={2}
        unit="m z"
        smallest={-1000}
        largest={1000}
        disabled={disabled}
        onCommit={(wanted) => onMark([x, wanted, heading])}
      />
      <NumberBox
        label="The mark’s heading in degrees"
        value={(heading * 180) / Math.PI}
        decimals={0}
        unit="°"
        smallest={-180}
        largest={180}
        disabled={disabled}
        onCommit={(degrees) => onMark([x, z, (degrees * Math.PI) / 180])}
      />
    </span>
  );
}
