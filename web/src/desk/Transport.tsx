import { useEffect, useRef, useSyncExternalStore } from 'react';
import { Choice, IconButton, Tick } from '../app/controls';
import type { Player, PlayMode } from '../player/player';

interface TransportProps {
  readonly player: Player;
  readonly firstFrame: number;
  readonly framesPerSecond: number;
  readonly onFit: () => void;
}

/** Play, step and scrub; the frame and its time. */
export function Transport({ player, firstFrame, framesPerSecond, onFit }: TransportProps) {
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label="First frame (Home)"
        onClick={() => player.goTo(0)}
      />
      <IconButton
        icon="chevron-left"
        label="One frame back (left arrow)"
        onClick={() => player.step(-1)}
      />
      <IconButton
        icon={state.playing ? 'pause-fill' : 'play-fill'}
        label={state.playing ? 'Pause (space)' : 'Play (space)'}
        className="play"
        onClick={() => player.toggle()}
      />
      <IconButton
        icon="chevron-right"
        label="One frame on (right arrow)"
        onClick={() => player.step(1)}
      />
      <IconButton
        icon="skip-end-fill"
        label="Last frame (End)"
        onClick={() => player.goTo(state.length - 1)}
      />
      <FrameBox player={player} firstFrame={firstFrame} framesPerSecond={framesPerSecond} />
      <span className="bar" />
      <Choice<PlayMode>
        label="How it plays"
        value={state.mode}
        onChange={(mode) => player.setMode(mode)}
        options={[
          { value: 'real time', text: 'Real time' },
          { value: 'every frame', text: 'Every frame' },
        ]}
      />
      <Tick label="Loop" checked={state.loop} onChange={(loop) => player.setLoop(loop)} />
      <span className="grow" />
      <span className="quiet number">{framesPerSecond.toFixed(3).replace(/\.?0+$/, '')} fps</span>
      <button
        type="button"
        className="btn btn-paper"
        onClick={onFit}
        title="The whole scene on the desk"
      >
        Fit
      </button>
    </div>
  );
}

interface FrameBoxProps {
  readonly player: Player;
  readonly firstFrame: number;
  readonly framesPerSecond: number;
}

function FrameBox({ player, firstFrame, framesPerSecond }: FrameBoxProps) {
  const frameText = useRef<HTMLSpanElement>(null);
  const timeText = useRef<HTMLElement>(null);
  useEffect(() => {
    const show = (frame: number) => {
      if (!frameText.current || !timeText.current) return;
      frameText.current.textContent = String(frame + firstFrame).padStart(3, '0');
      timeText.current.textContent = `${(frame / framesPerSecond).toFixed(2)} s`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, firstFrame, framesPerSecond]);
  return (
    <span className="frame-box" title="Frame, and seconds from the first">
      <span ref={frameText} data-testid="frame" />
      <small ref={timeText} />
    </span>
  );
}
