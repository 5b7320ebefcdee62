import { type Player, SPEEDS } from '../player/player';

interface SpeedProps {
  readonly player: Player;
  readonly speed: number;
  readonly hint?: string;
}

/** How fast it plays. */
export function SpeedChoice({ player, speed, hint = 'Slower (−), faster (=)' }: SpeedProps) {
  return (
    <select
      className="form-select speed"
      aria-label="Speed"
      title={hint}
      value={speed}
      onChange={(event) => player.setSpeed(Number(event.target.value))}
    >
      {SPEEDS.map((one) => (
        <option key={one} value={one}>
          {one}x
        </option>
      ))}
    </select>
  );
}
