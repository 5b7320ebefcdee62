import { useQuery } from '@tanstack/react-query';
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import { answered, api, filePoses, type Schemas } from '../../../api/client';
import { IconButton } from '../../../app/controls';
import { type Figure, makeCostume } from '../../../stage/costume';
import { costumeQuery } from '../../../stage/Filmstrip';
import { paintTurning } from '../../../stage/turning';
import type { Wish } from './wish';

interface PreviewProps {
  readonly production: string;
  readonly report: Schemas['FileReport'];
  readonly wish: Wish;
  readonly onWish: (part: Partial<Wish>) => void;
}

const MOST_POSES = 240;
const DEGREES_A_SECOND = 20;

/** The file's motion, turning slowly, with the range that is brought in under it. */
export function FilePreview({ production, report, wish, onWish }: PreviewProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [playing, setPlaying] = useState(true);
  const frame = useRef(wish.start);
  const needle = useRef<HTMLElement>(null);
  const isMapped = Object.keys(wish.mapping).length > 0;
  const onto = wish.onto && isMapped ? { figure: wish.onto, mapping: { ...wish.mapping } } : null;

  const own = useQuery({
    queryKey: ['file figure', production, report.file],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () =>
      makeCostume(
        (await answered(
          api.GET('/api/productions/{production_id}/files/{sha256}/figure', {
            params: { path: { production_id: production, sha256: report.file } },
          }),
        )) as Figure,
      ),
  });
  const fitted = useQuery({ ...costumeQuery(wish.onto ?? ''), enabled: wish.onto !== null });
  const poses = useQuery({
    queryKey: ['file poses', production, report.file, wish.metresPerUnit, JSON.stringify(onto)],
    placeholderData: (before) => before,
    queryFn: () =>
      filePoses(production, report.file, {
        start: 0,
        end: report.frames,
        most: MOST_POSES,
        metres_per_unit: wish.metresPerUnit,
        onto,
      }),
  });
  const costume = onto ? fitted.data : own.data;
  const { start, end } = wish;
  const count = Math.min(MOST_POSES, report.frames);

  useEffect(() => {
    const element = canvas.current;
    const pack = poses.data;
    if (!element || !pack || !costume) return undefined;
    let request = 0;
    let last = performance.now();
    let yaw = -58;
    const paint = (now: number) => {
      const seconds = (now - last) / 1000;
      last = now;
      if (playing) {
        yaw += seconds * DEGREES_A_SECOND;
        const next = frame.current + seconds * report.frames_per_second;
        frame.current = next >= end || next < start ? start : next;
      }
      const shown = Math.min(count - 1, Math.floor((frame.current / report.frames) * count));
      paintTurning(element, costume, pack, shown, yaw);
      if (needle.current) needle.current.style.left = `${(frame.current / report.frames) * 100}%`;
      request = requestAnimationFrame(paint);
    };
    request = requestAnimationFrame(paint);
    return () => cancelAnimationFrame(request);
  }, [poses.data, costume, playing, start, end, count, report]);

  return (
    <div className="file-preview">
      <canvas ref={canvas} role="img" aria-label={`${wish.name}, turning`} />
      <div className="range-line">
        <IconButton
          icon={playing ? 'pause-fill' : 'play-fill'}
          label={playing ? 'Pause' : 'Play'}
          onClick={() => setPlaying(!playing)}
        />
        <RangeBar
          frames={report.frames}
          start={start}
          end={end}
          onRange={(range) => onWish(range)}
          onScrub={(to) => {
            setPlaying(false);
            frame.current = to;
          }}
        >
          <i ref={needle} className="needle" />
        </RangeBar>
      </div>
    </div>
  );
}

interface RangeBarProps {
  readonly frames: number;
  readonly start: number;
  readonly end: number;
  readonly onRange: (range: { start: number; end: number }) => void;
  readonly onScrub: (frame: number) => void;
  readonly children: React.ReactNode;
}

/** A file's frames as a bar: draw its ends to take a part, press between them to scrub. */
function RangeBar({ frames, start, end, onRange, onScrub, children }: RangeBarProps) {
  const bar = useRef<HTMLDivElement>(null);
  const frameOf = (clientX: number) => {
    const box = bar.current?.getBoundingClientRect();
    const share = box ? (clientX - box.left) / box.width : 0;
    return Math.max(0, Math.min(frames, share * frames));
  };
  const set = (grip: 'start' | 'end', frame: number) => {
    const whole = Math.round(frame);
    if (grip === 'start') onRange({ start: Math.max(0, Math.min(whole, end - 1)), end });
    else onRange({ start, end: Math.min(frames, Math.max(whole, start + 1)) });
  };
  const follow = (event: PointerEvent<HTMLElement>, move: (clientX: number) => void) => {
    event.preventDefault();
    event.stopPropagation();
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    element.onpointermove = (moved) => move(moved.clientX);
    element.onpointerup = () => {
      element.onpointermove = null;
    };
  };
  const handle = (grip: 'start' | 'end', at: number) => (
    <div
      className={`range-handle is-${grip}`}
      style={{ left: `${(at / frames) * 100}%` }}
      role="slider"
      tabIndex={0}
      aria-label={grip === 'start' ? 'First frame of the range' : 'End of the range'}
      aria-valuemin={0}
      aria-valuemax={frames}
      aria-valuenow={at}
      onPointerDown={(event) => follow(event, (x) => set(grip, frameOf(x)))}
      onKeyDown={(event: KeyboardEvent) => {
        const step = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 }[event.key];
        if (!step) return;
        event.preventDefault();
        set(grip, at + step);
      }}
    />
  );
  return (
    <div
      className="range-bar"
      ref={bar}
      onPointerDown={(event) => {
        onScrub(frameOf(event.clientX));
        follow(event, (x) => onScrub(frameOf(x)));
      }}
    >
      <div
        className="taken"
        style={{ left: `${(start / frames) * 100}%`, right: `${(1 - end / frames) * 100}%` }}
      />
      {children}
      {handle('start', start)}
      {handle('end', end)}
    </div>
  );
}
