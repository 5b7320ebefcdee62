import type { KeyboardEvent, PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { useAhead } from '../app/useAhead';
import { LABEL_WIDTH, type Scale, xOf } from './scale';

type Beat = Schemas['Beat'];
/** In a clip a beat may go on over the seam: what it covers then begins again at the start. */
type DrawnBeat = Beat & { readonly stretches?: Schemas['StretchedBeat']['stretches'] };

export type BeatGrip = 'body' | 'start' | 'end';

interface BeatRowProps {
  readonly beats: readonly DrawnBeat[];
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly chosen: string | null;
  /** What an empty row says. */
  readonly hint: string;
  readonly onChoose: (beat: string) => void;
  readonly onGrab: (event: PointerEvent, beat: Beat, grip: BeatGrip) => void;
  /** An edit is on its way. */
  readonly isSaving: boolean;
  readonly onNudge: (edit: ReturnType<typeof drawnBeat>) => void;
  readonly onGo: (beat: Beat) => void;
}

export const BEAT_HEIGHT = 22;

/** Beats: named, coloured ranges of time, to find the parts of an action again. */
export function BeatRow(props: BeatRowProps) {
  const { beats, scale, firstFrame, onChoose, onGrab, onNudge, onGo } = props;
  const ahead = useAhead(props.isSaving);
  const keys = (event: KeyboardEvent, beat: Beat) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (event.key === 'Enter') {
      onChoose(beat.id);
      onGo(beat);
    } else if (event.altKey && way) {
      const grip = event.ctrlKey ? 'start' : event.shiftKey ? 'end' : 'body';
      const start = ahead(`start ${beat.id}`, beat.start, grip === 'end' ? 0 : way);
      const end = ahead(`end ${beat.id}`, beat.end, grip === 'start' ? 0 : way);
      onNudge(drawnBeat({ ...beat, start, end }, grip, 0));
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawn row, with a group's role
    <svg width={scale.width} height={BEAT_HEIGHT} role="group" aria-label={`${beats.length} beats`}>
      <path d={`M0 ${BEAT_HEIGHT - 0.5}H${scale.width}`} stroke="var(--rule-soft)" />
      <text className="desk-label is-sub" x="12" y="15">
        Beats
      </text>
      {beats.length === 0 && (
        <text className="desk-label is-sub" x={LABEL_WIDTH + 8} y="15">
          {props.hint}
        </text>
      )}
      <clipPath id="clip-beats">
        <rect x={LABEL_WIDTH - 1} width={scale.width} height={BEAT_HEIGHT} />
      </clipPath>
      <g clipPath="url(#clip-beats)">
        {beats.flatMap((beat) =>
          (beat.stretches ?? [])
            .slice(1)
            .map(([start, end]) => (
              <rect
                key={beat.id}
                x={xOf(scale, start)}
                y="3.5"
                width={xOf(scale, end) - xOf(scale, start)}
                height={BEAT_HEIGHT - 8}
                fill={`var(--${beat.colour})`}
                fillOpacity="0.22"
              />
            )),
        )}
        {beats.map((beat) => {
          const start = xOf(scale, beat.start);
          const width = xOf(scale, beat.end) - start;
          const chosen = props.chosen === beat.id;
          return (
            // biome-ignore lint/a11y/useSemanticElements: a bar drawn in SVG, with a button's role
            <g
              key={beat.id}
              className={`beat ${chosen ? 'is-chosen' : ''}`}
              role="button"
              tabIndex={0}
              data-beat={beat.id}
              aria-pressed={chosen}
              aria-label={`Beat ${beat.name}, frames ${beat.start + firstFrame} to ${beat.end - 1 + firstFrame}`}
              onPointerDown={(event) => onGrab(event, beat, 'body')}
              onDoubleClick={() => onGo(beat)}
              onKeyDown={(event) => keys(event, beat)}
            >
              <clipPath id={`beat-${beat.id}`}>
                <rect x={start} width={Math.max(0, width - 3)} height={BEAT_HEIGHT} />
              </clipPath>
              <rect
                x={start + 0.5}
                y="3.5"
                width={Math.max(1, width - 1)}
                height={BEAT_HEIGHT - 8}
                fill={`var(--${beat.colour})`}
                fillOpacity="0.22"
                stroke={chosen ? 'var(--ink)' : `var(--${beat.colour})`}
                strokeWidth={chosen ? 1.9 : 1}
              />
              <path
                d={`M${start} 3V${BEAT_HEIGHT - 4}`}
                stroke={`var(--${beat.colour})`}
                strokeWidth="4"
              />
              <text className="halo" x={start + 7} y="14.5" clipPath={`url(#beat-${beat.id})`}>
                {beat.name}
                <title>{beat.name}</title>
              </text>
              <rect
                className="edge-handle"
                x={start - 1}
                width="7"
                height={BEAT_HEIGHT}
                onPointerDown={(event) => onGrab(event, beat, 'start')}
              />
              <rect
                className="edge-handle"
                x={start + width - 6}
                width="7"
                height={BEAT_HEIGHT}
                onPointerDown={(event) => onGrab(event, beat, 'end')}
              />
            </g>
          );
        })}
      </g>
    </svg>
  );
}

/** What drawing a beat, or one of its ends, by so many frames asks for. */
export function drawnBeat(beat: Beat, grip: BeatGrip, frames: number) {
  const start = grip === 'end' ? beat.start : beat.start + frames;
  const end = grip === 'start' ? beat.end : beat.end + frames;
  return { kind: 'set_beat' as const, beat: beat.id, start, end };
}
