import { useEffect, useMemo, useRef } from 'react';
import { usePeaks } from '../../../api/sounds';
import { Playhead } from '../../../desk/Playhead';
import { Ruler } from '../../../desk/Ruler';
import {
  frameAt,
  LABEL_WIDTH,
  panned,
  type Scale,
  scaleOf,
  showing,
  windowOf,
  xOf,
  zoomed,
} from '../../../desk/scale';
import { wavePath } from '../../../desk/sound/wave';
import { useWidth } from '../../../desk/useWidth';
import { FIRST_FRAME } from '../firstFrame';
import type { VoiceRoomParts } from '../room';
import { MouthsRow } from './MouthsRow';
import { SpokenRows } from './SpokenRows';

const WAVE_HEIGHT = 56;

/** The line along its time: the sound, its words and phones, and the mouths that say them. */
export function VoiceTrack({ room }: { readonly room: VoiceRoomParts }) {
  const { sheet, player, memory, change } = room;
  const { place, width } = useWidth();
  const scale = useMemo(
    () => scaleOf(memory.window, sheet.frames, Math.max(320, width)),
    [memory.window, sheet.frames, width],
  );
  const latest = useRef({ scale, sheet, change });
  latest.current = { scale, sheet, change };
  // What is played stays in sight.
  useEffect(
    () =>
      player.onFrame((frame) => {
        const { scale: seen, sheet: shown } = latest.current;
        const moved = showing(seen, shown.frames, frame);
        if (moved !== seen) latest.current.change({ window: windowOf(moved, shown.frames) });
      }),
    [player],
  );
  // React listens to wheels passively, and the page must not zoom along.
  useEffect(() => {
    const element = place.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.shiftKey && !event.deltaX) return;
      event.preventDefault();
      const { scale: seen, sheet: shown } = latest.current;
      const x = event.clientX - element.getBoundingClientRect().left;
      const moved = event.ctrlKey
        ? zoomed(seen, shown.frames, x, 1.0015 ** -event.deltaY)
        : panned(seen, shown.frames, event.deltaX || event.deltaY);
      latest.current.change({ window: windowOf(moved, shown.frames) });
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [place]);
  return (
    <section className="voice-track" aria-label="The line’s time" ref={place}>
      <Ruler
        scale={scale}
        length={sheet.frames}
        firstFrame={FIRST_FRAME}
        framesPerSecond={sheet.fps}
        player={player}
        head={null}
      />
      <WaveRow room={room} scale={scale} />
      <SpokenRows room={room} scale={scale} />
      <MouthsRow room={room} scale={scale} />
      <Playhead player={player} scale={scale} firstFrame={FIRST_FRAME} />
    </section>
  );
}

interface RowProps {
  readonly room: VoiceRoomParts;
  readonly scale: Scale;
}

function WaveRow({ room, scale }: RowProps) {
  const { sheet, player } = room;
  const peaks = usePeaks(sheet.sound).data;
  const wave = useMemo(() => {
    if (!peaks) return '';
    const secondsAPixel = 1 / scale.pixelsPerFrame / sheet.fps;
    return wavePath(peaks, {
      left: LABEL_WIDTH,
      right: scale.width,
      secondsAtZero: frameAt(scale, 0) / sheet.fps,
      secondsAPixel,
      middle: WAVE_HEIGHT / 2,
      halfHeight: WAVE_HEIGHT / 2 - 4,
      gainAt: () => 1,
    });
  }, [peaks, scale, sheet.fps]);
  return (
    <svg
      className="voice-row voice-wave"
      width={scale.width}
      height={WAVE_HEIGHT}
      role="img"
      aria-label={`The sound, ${sheet.seconds.toFixed(2)} seconds`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const { left } = event.currentTarget.getBoundingClientRect();
        const scrub = (x: number) => {
          player.pause();
          player.goTo(Math.floor(frameAt(scale, x - left)));
        };
        scrub(event.clientX);
        const svg = event.currentTarget;
        svg.onpointermove = (moved) => scrub(moved.clientX);
        svg.onpointerup = () => {
          svg.onpointermove = null;
        };
      }}
    >
      <text className="row-name" x="12" y={WAVE_HEIGHT / 2 + 4}>
        Sound
      </text>
      <path d={wave} />
      <path
        className="wave-end"
        d={`M${xOf(scale, sheet.seconds * sheet.fps)} 6V${WAVE_HEIGHT - 6}`}
      />
    </svg>
  );
}
