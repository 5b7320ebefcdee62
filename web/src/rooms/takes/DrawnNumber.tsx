import { useEffect, useRef, useState } from 'react';
import { NumberBox } from '../../app/controls';

interface DrawnProps {
  readonly label: string;
  readonly value: number;
  readonly low: number;
  readonly high: number;
  readonly unit: string;
  readonly disabled: boolean;
  /** While it is drawn; none once it is let go of without a change. */
  readonly onDraw: (value: number | null) => void;
  readonly onSet: (value: number) => void;
}

const STEPS = 200;

/** A number on a slider, fine where it is small: what it would give is shown while it is drawn. */
export function DrawnNumber({
  label,
  value,
  low,
  high,
  unit,
  disabled,
  onDraw,
  onSet,
}: DrawnProps) {
  const [drawn, setDrawn] = useState<number | null>(null);
  // What stood before the draw: while it lasts, `value` is what the preview answers.
  const stood = useRef<number | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: an answer to what was set ends the draw
  useEffect(() => {
    if (stood.current === null) setDrawn(null);
  }, [value]);
  const placeOf = (number: number) => (STEPS * Math.log(number / low)) / Math.log(high / low);
  const valueAt = (place: number) => rounded(low * (high / low) ** (place / STEPS));
  const shown = drawn ?? value;
  const done = () => {
    const from = stood.current;
    stood.current = null;
    if (from === null) return;
    if (drawn !== null && drawn !== from) onSet(drawn);
    else {
      setDrawn(null);
      onDraw(null);
    }
  };
  return (
    <div className="drawn-number">
      <input
        type="range"
        aria-label={label}
        aria-valuetext={`${shown} ${unit}`}
        min={0}
        max={STEPS}
        value={placeOf(Math.max(low, Math.min(high, shown)))}
        disabled={disabled}
        onChange={(event) => {
          const next = valueAt(Number(event.target.value));
          stood.current ??= value;
          setDrawn(next);
          onDraw(next);
        }}
        onPointerUp={done}
        onKeyUp={done}
        onBlur={done}
      />
      <NumberBox
        label={`${label}, as a number`}
        value={shown}
        decimals={2}
        unit={unit}
        smallest={low / 5}
        largest={high * 3}
        disabled={disabled}
        onCommit={onSet}
      />
    </div>
  );
}

const rounded = (value: number) =>
  value < 1 ? Math.round(value * 100) / 100 : Math.round(value * 10) / 10;
