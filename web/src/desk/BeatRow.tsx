import type { KeyboardEvent, PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { LABEL_WIDTH, type Scale, xOf } from './scale';
import type { Selection } from './selection';

type Beat = Schemas['Beat'];

export type BeatGrip = 'body' | 'start' | 'end';

interface BeatRowProps {
  readonly beats: readonly Beat[];
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly selection: Selection | null;
  readonly mayChange: boolean;
  readonly onSelect: (selection: Selection) => void;
  readonly onGrab: (event: PointerEvent, beat: Beat, grip: BeatGrip) => void;
  readonly onNudge: (beat: Beat, grip: BeatGrip, frames: number) => void;
  readonly onGo: (beat: Beat) => void;
}

export const BEAT_HEIGHT = 22;

/** Beats: named, coloured ranges of time, to find the parts of an action again. */
export function BeatRow(props: BeatRowProps) {
  const { beats, scale, firstFrame, selection, mayChange, onSelect, onGrab, onNudge, onGo } = props;
  const keys = (event: KeyboardEvent, beat: Beat) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (event.key === 'Enter') {
      onSelect({ kind: 'beat', id: beat.id });
      onGo(beat);
    } else if (event.altKey && way) {
      const grip = event.ctrlKey ? 'start' : event.shiftKey ? 'end' : 'body';
      onNudge(beat, grip, way);
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
      {beats.length === 0 && mayChange && (
        <text className="desk-label is-sub" x={LABEL_WIDTH + 8} y="15">
          B marks a beat at the playhead: a part of the action to find again
        </text>
      )}
      <clipPath id="clip-beats">
        <rect x={LABEL_WIDTH - 1} width={scale.width} height={BEAT_HEIGHT} />
      </clipPath>
      <g clipPath="url(#clip-beats)">
        {beats.map((beat) => {
          const start = xOf(scale, beat.start);
          const width = xOf(scale, beat.end) - start;
          const chosen = selection?.kind === 'beat' && selection.id === beat.id;
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
