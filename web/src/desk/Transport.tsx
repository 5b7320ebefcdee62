import { useEffect, useRef, useSyncExternalStore } from 'react';
import type { Schemas } from '../api/client';
import { Choice, IconButton, NumberBox, Tick } from '../app/controls';
import type { LaidHead } from '../player/laidHead';
import type { Player, PlayerState, PlayMode } from '../player/player';
import type { SoundTrack } from '../player/sound/soundTrack';
import { SpeedChoice } from './SpeedChoice';
import { beatEdges, cutsOf, nextOf } from './selection';

/** How drawing on the desk behaves. */
export interface DeskOptions {
  readonly snap: boolean;
  readonly ripple: boolean;
  /** The strands of a chosen stint are unfolded under its lane, and those of the scene over all lanes. */
  readonly strands: boolean;
  readonly sceneStrands: boolean;
  /** Which frames the ruler shows where the scene’s elastic is bent; the other ones are faint. */
  readonly ruler: 'played' | 'laid';
}

interface TransportProps {
  readonly player: Player;
  readonly head: LaidHead;
  readonly desk: Schemas['Desk'];
  readonly options: DeskOptions;
  readonly isWhole: boolean;
  /** Whether there is a part to go back to. */
  readonly hasPart: boolean;
  readonly onOptions: (options: DeskOptions) => void;
  readonly onWhole: () => void;
  readonly track: SoundTrack;
}

/** Play, step and jump; the frame and its time; how it plays, and how drawing behaves. */
export function Transport(props: TransportProps) {
  const { player, head, desk, options, isWhole, hasPart, onOptions, onWhole, track } = props;
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  const first = desk.first_frame;
  const jump = (frames: readonly number[], way: 1 | -1) => {
    const there = nextOf(frames, head.frame, way);
    head.pause();
    if (there !== null) head.goTo(there);
  };
  const forwards = state.playing && !state.backwards;
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label="First frame (Home)"
        onClick={() => player.goTo(0)}
      />
      <IconButton
        icon="chevron-double-left"
        label="The cut before (Page up)"
        onClick={() => jump(cutsOf(desk), -1)}
      />
      <IconButton
        icon="chevron-left"
        label="One frame back (left arrow)"
        onClick={() => player.step(-1)}
      />
      <IconButton
        icon={state.playing && state.backwards ? 'pause-fill' : 'caret-left-fill'}
        label={state.playing && state.backwards ? 'Pause' : 'Play backwards (Shift space)'}
        onClick={() => player.toggle(true)}
      />
      <IconButton
        icon={forwards ? 'pause-fill' : 'play-fill'}
        label={forwards ? 'Pause (space)' : 'Play (space)'}
        className="play"
        onClick={() => player.toggle()}
      />
      <IconButton
        icon="chevron-right"
        label="One frame on (right arrow)"
        onClick={() => player.step(1)}
      />
      <IconButton
        icon="chevron-double-right"
        label="The next cut (Page down)"
        onClick={() => jump(cutsOf(desk), 1)}
      />
      <IconButton
        icon="skip-end-fill"
        label="Last frame (End)"
        onClick={() => player.goTo(state.length - 1)}
      />
      <FrameBox
        player={player}
        head={head}
        firstFrame={first}
        framesPerSecond={desk.frames_per_second}
      />
      <span className="bar" />
      <Choice<PlayMode>
        label="How it plays"
        value={state.mode}
        onChange={(mode) => player.setMode(mode)}
        options={[
          {
            value: 'real time',
            text: 'Real time',
            hint: 'Keeps time and drops frames if it must (E)',
          },
          {
            value: 'every frame',
            text: 'Every frame',
            hint: 'Shows each frame, however long it takes (E)',
          },
        ]}
      />
      <SpeedChoice player={player} speed={state.speed} />
      <SoundSwitch track={track} state={state} />
      <Tick
        label="Loop"
        hint="Round and round (L)"
        checked={state.loop}
        onChange={(loop) => player.setLoop(loop)}
      />
      {state.range && (
        <span className="pair loop-range">
          <NumberBox
            label="First frame of the loop"
            value={state.range.start + first}
            onCommit={(value) =>
              state.range && player.setRange({ ...state.range, start: value - first })
            }
          />
          to
          <NumberBox
            label="Last frame of the loop"
            value={state.range.end - 1 + first}
            onCommit={(value) =>
              state.range && player.setRange({ ...state.range, end: value + 1 - first })
            }
          />
          <IconButton
            icon="x"
            label="Loop the whole scene (Shift L)"
            onClick={() => player.setRange(null)}
          />
        </span>
      )}
      <span className="bar" />
      {desk.beats.length > 0 && (
        <>
          <IconButton
            icon="arrow-left-short"
            label="The beat before (comma)"
            onClick={() => jump(beatEdges(desk), -1)}
          />
          <IconButton
            icon="arrow-right-short"
            label="The next beat (full stop)"
            onClick={() => jump(beatEdges(desk), 1)}
          />
        </>
      )}
      <span className="grow" />
      <Tick
        label="Snap"
        hint="Catch on cuts, beats and the playhead (S); Alt lets go while drawing"
        checked={options.snap}
        onChange={(snap) => onOptions({ ...options, snap })}
      />
      <Tick
        label="Strands"
        hint="The time of the chosen stint, unfolded under its lane (Z)"
        checked={options.strands}
        onChange={(strands) => onOptions({ ...options, strands })}
      />
      <Tick
        label="Ripple"
        hint="What follows on the lane keeps its distance (R)"
        checked={options.ripple}
        onChange={(ripple) => onOptions({ ...options, ripple })}
      />
      <button
        type="button"
        className="btn btn-paper"
        onClick={onWhole}
        disabled={isWhole && !hasPart}
        title="The whole scene, and back to the part you saw (W)"
      >
        {isWhole ? 'Part' : 'Whole'}
      </button>
    </div>
  );
}

/** Sound on or off; and why there is none where it is on. */
function SoundSwitch({ track, state }: { track: SoundTrack; state: PlayerState }) {
  const { isOn, isThere } = useSyncExternalStore(track.subscribe, track.snapshot);
  if (!isThere) return null;
  const why =
    state.mode === 'every frame'
      ? 'Every frame is shown, however long it takes: sound is heard in real time only'
      : state.playing && state.backwards
        ? 'Backwards there is no sound'
        : null;
  return (
    <span className="sound-switch">
      <IconButton
        icon={isOn ? 'volume-up' : 'volume-mute'}
        label={isOn ? 'Sound off (Shift M)' : 'Sound on (Shift M)'}
        pressed={isOn}
        onClick={() => track.setOn(!isOn)}
      />
      {isOn && why && (
        <small className="quiet" title={why}>
          silent
        </small>
      )}
    </span>
  );
}

interface FrameBoxProps {
  readonly player: Player;
  readonly head: LaidHead;
  readonly firstFrame: number;
  readonly framesPerSecond: number;
}

function FrameBox({ player, head, firstFrame, framesPerSecond }: FrameBoxProps) {
  const laidText = useRef<HTMLElement>(null);
  const frameText = useRef<HTMLSpanElement>(null);
  const timeText = useRef<HTMLElement>(null);
  useEffect(() => {
    const show = (frame: number) => {
      if (!frameText.current || !timeText.current) return;
      frameText.current.textContent = String(frame + firstFrame).padStart(3, '0');
      if (laidText.current) {
        const laid = head.laidAt(frame) + firstFrame;
        laidText.current.textContent = `plays ${Math.round(laid * 10) / 10}`;
      }
      timeText.current.textContent = `${(frame / framesPerSecond).toFixed(2)} s`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, head, firstFrame, framesPerSecond]);
  return (
    <span
      className="frame-box"
      title={`Frame, and seconds from the first, at ${framesPerSecond} fps`}
    >
      <span ref={frameText} data-testid="frame" />
      <small ref={timeText} />
      {!head.isStraight && (
        <small ref={laidText} className="laid" title="The laid frame that plays" />
      )}
    </span>
  );
}
