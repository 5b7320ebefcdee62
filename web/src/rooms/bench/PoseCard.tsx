import { useQuery } from '@tanstack/react-query';
import { type Clip, type ClipEdit, type PoseChange, readNumbers } from '../../api/clips';
import { NumberBox } from '../../app/controls';
import type { Player } from '../../player/player';
import { useFrame } from './useFrame';

interface PoseCardProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joint: string;
  readonly edit: ClipEdit | null;
  readonly onDraw: (frame: number, change: PoseChange, done: boolean) => void;
}

/** The numbers of the chosen joint at the playhead. */
export function PoseCard({ clip, player, joint, edit, onDraw }: PoseCardProps) {
  const frame = useFrame(player);
  const row = clip.bench.joints.find((other) => other.name === joint);
  const numbers = useQuery({
    queryKey: ['numbers', clip.content, frame, joint, edit],
    queryFn: () => readNumbers(clip.id, frame, [joint], edit),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <div className="pose-card">
      <b>{row?.label}</b>
      {numbers.data
        ?.filter((number) => number.joint === joint)
        .map((number) => (
          <div key={number.channel} className={`pose-number is-${number.keyed}`}>
            <span>
              {number.kind} {number.axis}
            </span>
            <NumberBox
              label={`${row?.label}, ${number.kind} ${number.axis}`}
              value={number.value}
              decimals={number.unit === 'degrees' ? 1 : 3}
              unit={number.unit === 'degrees' ? '°' : 'm'}
              disabled={!clip.may_change}
              onCommit={(value) =>
                onDraw(frame, { kind: 'set_value', channel: number.channel, value }, true)
              }
            />
          </div>
        ))}
    </div>
  );
}
