import { useEffect, useRef, useSyncExternalStore } from 'react';
import type { Clip } from '../../api/clips';
import { Choice, IconButton, Tick } from '../../app/controls';
import { SpeedChoice } from '../../desk/SpeedChoice';
import type { Player, PlayMode } from '../../player/player';
import { withBenchKey } from './benchKeys';
import { KINDS, type Kind } from './kinds';
import { keyFrames } from './sheet';

interface BenchTransportProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly inPlace: boolean;
  readonly record: boolean;
  readonly isLoose: boolean;
  readonly chosen: number;
  /** What the key button and K key. */
  readonly kinds: readonly Kind[];
  readonly onKinds: (kinds: readonly Kind[]) => void;
  readonly onInPlace: (inPlace: boolean) => void;
  readonly onRecord: (on: boolean) => void;
  readonly onKey: () => void;
}

/** Play and flip; and the two things that make keys: Record, which is off, and the key button. */
export function BenchTransport(props: BenchTransportProps) {
  const { clip, player, record, isLoose, chosen } = props;
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  const flip = (way: 1 | -1) => {
    const frames = keyFrames(clip.bench);
    const beside = frames.filter((frame) =>
      way < 0 ? frame < player.frame : frame > player.frame,
    );
    const there = (way < 0 ? beside.at(-1) : beside[0]) ?? (way < 0 ? frames.at(-1) : frames[0]);
    player.pause();
    if (there !== undefined) player.goTo(Math.round(there));
  };
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label={withBenchKey('First frame', 'first')}
        onClick={() => player.goTo(0)}
      />
      <IconButton
        icon="chevron-double-left"
        label={withBenchKey('The key before', 'keyBefore')}
        onClick={() => flip(-1)}
      />
      <IconButton
        icon={state.playing ? 'pause-fill' : 'play-fill'}
        label={withBenchKey(state.playing ? 'Pause' : 'Play', 'play')}
        className="play"
        onClick={() => player.toggle()}
      />
      <IconButton
        icon="chevron-double-right"
        label={withBenchKey('The next key', 'keyAfter')}
        onClick={() => flip(1)}
      />
      <IconButton
        icon="skip-end-fill"
        label={withBenchKey('Last frame', 'last')}
        onClick={() => player.goTo(state.length - 1)}
      />
      <Frame player={player} framesPerSecond={clip.bench.frames_per_second} />
      <span className="bar" />
      <Choice<PlayMode>
        label="How it plays"
        value={state.mode}
        onChange={(mode) => player.setMode(mode)}
        options={[
          { value: 'real time', text: 'Real time', hint: withBenchKey('Keeps time', 'mode') },
          { value: 'every frame', text: 'Every frame', hint: withBenchKey('Shows each', 'mode') },
        ]}
      />
      <SpeedChoice player={player} speed={state.speed} />
      <Tick
        label="In place"
        hint={withBenchKey('Without its travel over the ground', 'inPlace')}
        checked={props.inPlace}
        onChange={props.onInPlace}
      />
      <span className="grow" />
      {clip.may_change && (
        <>
          <button
            type="button"
            className={`record ${record ? 'is-on' : ''}`}
            role="switch"
            aria-checked={record}
            title={withBenchKey('Key every change', 'record')}
            onClick={() => props.onRecord(!record)}
          >
            <i /> {record ? 'Record on' : 'Record off'}
          </button>
          <span className="quiet record-says">
            {record
              ? 'Every change is keyed.'
              : isLoose
                ? 'A loose pose: K keys it, Esc drops it.'
                : 'Keys are made only when you press K.'}
          </span>
          <select
            className="form-select keyed-kinds"
            aria-label="What is keyed"
            value={props.kinds.join(' ')}
            onChange={(event) => props.onKinds(event.target.value.split(' ') as Kind[])}
          >
            <option value={KINDS.join(' ')}>all</option>
            <option value="turn move">turn, move</option>
            {KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {kind}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="btn btn-lamp"
            title={withBenchKey('Key what is chosen, or the whole figure', 'key')}
            onClick={props.onKey}
          >
            {isLoose ? 'Key it' : chosen ? 'Key chosen' : 'Key pose'}
          </button>
        </>
      )}
    </div>
  );
}

function Frame({ player, framesPerSecond }: { player: Player; framesPerSecond: number }) {
  const frameText = useRef<HTMLSpanElement>(null);
  const timeText = useRef<HTMLElement>(null);
  useEffect(() => {
    const show = (frame: number) => {
      if (frameText.current) frameText.current.textContent = String(frame).padStart(2, '0');
      if (timeText.current)
        timeText.current.textContent = `${(frame / framesPerSecond).toFixed(2)} s`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, framesPerSecond]);
  return (
    <span className="frame-box" title={`Frame from 0, and seconds, at ${framesPerSecond} fps`}>
      <span ref={frameText} data-testid="frame" />
      <small ref={timeText} />
    </span>
  );
}
