import { useEffect, useRef, useSyncExternalStore } from 'react';
import { IconButton, Tick } from '../../app/controls';
import { SpeedChoice } from '../../desk/SpeedChoice';

import { FIRST_FRAME } from './firstFrame';
import type { VoiceRoomParts } from './room';
import type { VoiceHands } from './useVoiceActions';
import { withVoiceKey } from './voiceKeys';

interface Props {
  readonly room: VoiceRoomParts;
  readonly hands: VoiceHands;
}

/** Play, step by frames and mouths, slower with the pitch kept, and a word round and round. */
export function VoiceTransport({ room, hands }: Props) {
  const { player, track, line } = room;
  const state = useSyncExternalStore(player.subscribe, player.snapshot);
  const { isOn } = useSyncExternalStore(track.subscribe, track.snapshot);
  return (
    <div className="transport" role="toolbar" aria-label="Play">
      <IconButton
        icon="skip-start-fill"
        label={withVoiceKey('First frame', 'first')}
        onClick={() => player.goTo(0)}
      />
      <IconButton
        icon="chevron-bar-left"
        label={withVoiceKey('The mouth before', 'mouthBefore')}
        onClick={() => hands.toMouth(-1)}
      />
      <IconButton
        icon="chevron-left"
        label={withVoiceKey('One frame back', 'back')}
        onClick={() => player.step(-1)}
      />
      <IconButton
        icon={state.playing ? 'pause-fill' : 'play-fill'}
        label={withVoiceKey(state.playing ? 'Pause' : 'Play', 'play')}
        className="play"
        onClick={() => player.toggle()}
      />
      <IconButton
        icon="chevron-right"
        label={withVoiceKey('One frame on', 'forward')}
        onClick={() => player.step(1)}
      />
      <IconButton
        icon="chevron-bar-right"
        label={withVoiceKey('The next mouth', 'mouthAfter')}
        onClick={() => hands.toMouth(1)}
      />
      <FrameBox room={room} />
      <span className="bar" />
      <SpeedChoice
        player={player}
        speed={state.speed}
        hint="Slower (−), faster (=); the pitch stays"
      />
      <button
        type="button"
        className="btn btn-paper"
        aria-pressed={state.range !== null}
        title={withVoiceKey('The word here, round and round', 'loopWord')}
        onClick={hands.loopWord}
      >
        {state.range ? 'The whole line' : 'Loop the word'}
      </button>
      <span className="grow" />
      <Tick
        label="Hear it"
        hint={withVoiceKey('Sound in play, and a frame of it at each step', 'sound')}
        checked={isOn}
        onChange={(on) => track.setOn(on)}
      />
      {line.may_change && isPinned(room.sheet) && (
        <button
          type="button"
          className="btn btn-paper"
          title={withVoiceKey('What lies between two beginnings set by hand', 'readBetween')}
          disabled={hands.reading !== null}
          onClick={() => hands.readBetween(player.frame / room.sheet.fps)}
        >
          Between the pins
        </button>
      )}
      {line.may_change && (
        <button
          type="button"
          className="btn btn-paper"
          title={withVoiceKey('Lay the text on the sound', 'read')}
          disabled={hands.reading !== null}
          onClick={() => hands.read(false)}
        >
          {room.sheet.reading ? 'Read again' : 'Read the sound'}
        </button>
      )}
    </div>
  );
}

const isPinned = ({ reading }: VoiceRoomParts['sheet']): boolean =>
  reading?.words?.some(({ phones }) => phones?.some(({ by_hand }) => by_hand)) ?? false;

function FrameBox({ room }: { readonly room: VoiceRoomParts }) {
  const { player, sheet } = room;
  const frameText = useRef<HTMLSpanElement>(null);
  const timeText = useRef<HTMLElement>(null);
  useEffect(() => {
    const show = (frame: number) => {
      if (!frameText.current || !timeText.current) return;
      frameText.current.textContent = String(frame + FIRST_FRAME).padStart(3, '0');
      timeText.current.textContent = `${(frame / sheet.fps).toFixed(2)} s`;
    };
    show(player.frame);
    return player.onFrame(show);
  }, [player, sheet.fps]);
  return (
    <span
      className="frame-box"
      title={`Frame, and seconds from the first, at ${sheet.fps.toFixed(3).replace(/\.?0+$/, '')} fps`}
    >
      <span ref={frameText} data-testid="frame" />
      <small ref={timeText} />
    </span>
  );
}
