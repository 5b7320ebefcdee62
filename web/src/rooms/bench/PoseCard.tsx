import { useQuery } from '@tanstack/react-query';
import { type Clip, type ClipEdit, type PoseChange, readNumbers } from '../../api/clips';
import { NumberBox } from '../../app/controls';
import type { Player } from '../../player/player';
import { useFrame } from '../../player/useFrame';
import { WRITTEN } from './kinds';

interface PoseCardProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joint: string;
  readonly edit: ClipEdit | null;
  readonly onDraw: (frame: number, change: PoseChange, done: boolean) => void;
}

/** The numbers of the chosen joint at the playhead: a row for each of its turn, move and scale. */
export function PoseCard({ clip, player, joint, edit, onDraw }: PoseCardProps) {
  const frame = useFrame(player);
  const row = clip.bench.joints.find((other) => other.name === joint);
  const numbers = useQuery({
    queryKey: ['numbers', clip.content, frame, joint, edit],
    queryFn: () => readNumbers(clip, frame, [joint], edit),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const own = numbers.data?.filter((number) => number.joint === joint) ?? [];
  const rows = [...new Set(own.map((number) => number.row))];
  return (
    <div className="pose-card">
      <b>{row?.label}</b>
      {rows.map((name) => (
        <div key={name} className="pose-row">
          <span>
            {name}{' '}
            <small>
              {WRITTEN[own.find((number) => number.row === name)?.unit ?? 'degrees'].sign}
            </small>
          </span>
          {own
            .filter((number) => number.row === name)
            .map((number) => (
              <span key={number.channel} className={`pose-number is-${number.keyed}`}>
                <i>{number.axis === 'heading' ? 'h' : number.axis}</i>
                <NumberBox
                  label={`${row?.label}, ${name} ${number.axis}`}
                  value={number.value}
                  decimals={WRITTEN[number.unit].decimals}
                  disabled={!clip.may_change}
                  onCommit={(value) =>
                    onDraw(frame, { kind: 'set_value', channel: number.channel, value }, true)
                  }
                />
              </span>
            ))}
        </div>
      ))}
    </div>
  );
}
