import { useEffect, useRef, useSyncExternalStore } from 'react';
import type { Play } from '../../api/drawings';
import { Choice, IconButton, NumberBox } from '../../app/controls';
import { SpeedChoice } from '../../desk/SpeedChoice';
import { withDrawingsKey } from './drawingsKeys';
import { type DrawingsRoomParts, FIRST_FRAME } from './room';
import type { DrawingsHands } from './useDrawingsActions';

interface Props {
  readonly room: DrawingsRoomParts;
  readonly hands: DrawingsHands;
}

const PLAYS: readonly { readonly value: Play; readonly text: string; readonly hint: string }[] = [
  { value: 'once', text: 'Plays once', hint: 'And holds its last drawing' },
  { value: 'repeat', text: 'Repeats', hint: 'From the first again after the last' },
  { value: 'bounce', text: 'There and back', hint: 'Its ends show once' },
  { value: 'backwards', text: 'Backwards', hint: 'From the last to the first, over and over' },
  { value: 'boil', text: 'Boils', hint: 'By chance, and never the same twice running' },
];

/** Play, step by frames and drawings, and how the run plays. */
export function DrawingsTransport({ room, hands }: Props) {
  const { player, sheet, run, onEdit } = room;
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  const { play = 'once', seed = 1 } = sheet.run;
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label={withDrawingsKey('First frame', 'first')}
        onClick={() => player.goTo(0)}
      />
      <IconButton
        icon="chevron-bar-left"
        label={withDrawingsKey('The drawing before', 'flipBack')}
        onClick={() => hands.flip(-1)}
      />
      <IconButton
        icon={state.playing ? 'pause-fill' : 'play-fill'}
        label={withDrawingsKey(state.playing ? 'Pause' : 'Play', 'play')}
        className="play"
        onClick={() => player.toggle()}
      />
      <IconButton
        icon="chevron-bar-right"
        label={withDrawingsKey('The next drawing', 'flipOn')}
        onClick={() => hands.flip(1)}
      />
      <FrameBox room={room} />
      <SpeedChoice player={player} speed={state.speed} />
      <span className="bar" />
      <Choice<Play>
        label="How it plays"
        options={PLAYS}
        value={play}
        disabled={!run.may_change}
        onChange={(wanted) => onEdit({ kind: 'play_run', play: wanted })}
      />
      <span className="grow" />
      {play === 'boil' && (
        <span className="pair">
          <span className="quiet">Seed</span>
          <NumberBox
            label="Seed of the boil"
            value={seed}
            smallest={0}
            largest={999_999}
            disabled={!run.may_change}
            onCommit={(wanted) => onEdit({ kind: 'seed_run', seed: wanted })}
          />
          {run.may_change && (
            <button
              type="button"
              className="btn btn-paper"
              title={withDrawingsKey('Boil by another seed', 'drawAnew')}
              onClick={hands.drawAnew}
            >
              Draw anew
            </button>
          )}
        </span>
      )}
    </div>
  );
}

function FrameBox({ room }: { readonly room: DrawingsRoomParts }) {
  const { player, fps } = room;
  const frameText = useRef<HTMLSpanElement>(null);
  const timeText = useRef<HTMLElement>(null);
  useEffect(() => {
    const show = (frame: number) => {
      if (!frameText.current || !timeText.current) return;
      frameText.current.textContent = String(frame + FIRST_FRAME).padStart(3, '0');
      timeText.current.textContent = `${(frame / fps).toFixed(2)} s`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, fps]);
  return (
    <span
      className="frame-box"
      title={`Frame, and seconds from the first, at ${+fps.toFixed(3)} fps`}
    >
      <span ref={frameText} data-testid="frame" />
      <small ref={timeText} />
    </span>
  );
}
