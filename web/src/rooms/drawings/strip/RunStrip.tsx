import { useEffect, useMemo, useRef } from 'react';
import { Playhead } from '../../../desk/Playhead';
import { Ruler } from '../../../desk/Ruler';
import { panned, scaleOf, showing, windowOf, zoomed } from '../../../desk/scale';
import { useWidth } from '../../../desk/useWidth';
import { type DrawingsRoomParts, FIRST_FRAME } from '../room';
import { OrderRow } from './OrderRow';
import { PinsRow } from './PinsRow';
import { PlayedRow } from './PlayedRow';

/** The run along its time: its pins, what plays, and the order that it comes of. */
export function RunStrip({ room }: { readonly room: DrawingsRoomParts }) {
  const { sheet, player, memory, change, fps } = room;
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
    <section className="run-strip" aria-label="The run’s time" ref={place}>
      <Ruler
        scale={scale}
        length={sheet.frames}
        firstFrame={FIRST_FRAME}
        framesPerSecond={fps}
        player={player}
        head={null}
      />
      <PinsRow room={room} scale={scale} />
      <PlayedRow room={room} scale={scale} />
      <OrderRow room={room} scale={scale} />
      <Playhead player={player} scale={scale} firstFrame={FIRST_FRAME} />
    </section>
  );
}
