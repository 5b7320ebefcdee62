import type { PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { counted } from '../app/counted';
import { type Scale, xOf } from './scale';

export type Fix = Schemas['DeskFix'];
export type FixGrip = 'body' | 'start' | 'end';

export interface FixActions {
  readonly pickFix: (fix: Fix) => void;
  readonly grabFix: (event: PointerEvent, fix: Fix, grip: FixGrip) => void;
}

interface FixMarksProps {
  /** Those that are seen. */
  readonly fixes: readonly Fix[];
  /** The lane has none, seen or not. */
  readonly isEmpty: boolean;
  readonly of: string;
  readonly scale: Scale;
  readonly height: number;
  readonly firstFrame: number;
  readonly chosen: string | null;
  readonly actions: FixActions;
}

const GRIP = 8;
const PEG = 4.5;

/** The corrections of a fix lane: each a hill from nothing to the whole and back, with a peg at its frame. */
export function FixMarks(props: FixMarksProps) {
  const { fixes, isEmpty, of, scale, height, firstFrame, chosen, actions } = props;
  if (isEmpty)
    return (
      <text className="desk-label is-sub" x={xOf(scale, scale.start) + 10} y={height / 2 + 4}>
        Choose this lane, go to a frame, and pose {of} on the stage
      </text>
    );
  return fixes.map((fix) => {
    const [start, at, stands, end] = [fix.start, fix.at, fix.stands_to, fix.end].map((frame) =>
      xOf(scale, frame + 0.5),
    );
    const isChosen = fix.id === chosen;
    const foot = height - 2;
    const top = 9;
    const hill = `M${start} ${foot}C${(start + at) / 2} ${foot} ${(start + at) / 2} ${top} ${at} ${top}H${stands}C${(stands + end) / 2} ${top} ${(stands + end) / 2} ${foot} ${end} ${foot}Z`;
    const shown = Math.round(fix.at) + firstFrame;
    const says = `Fix at ${shown}, ${counted(fix.joints.length, 'joint')}`;
    return (
      // biome-ignore lint/a11y/useSemanticElements: a hill drawn in SVG, with a button's role and keys
      <g
        key={fix.id}
        className={`fix-mark ${isChosen ? 'is-chosen' : ''}`}
        role="button"
        tabIndex={0}
        aria-label={says}
        aria-pressed={isChosen}
        data-fix={fix.id}
        onPointerDown={(event) => actions.grabFix(event, fix, 'body')}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          event.preventDefault();
          event.stopPropagation();
          actions.pickFix(fix);
        }}
      >
        <title>{says}</title>
        <path className="hill" d={hill} />
        <path
          className="peg"
          d={`M${at} ${top - PEG}l${PEG} ${PEG}l${-PEG} ${PEG}l${-PEG} ${-PEG}z`}
        />
        {(['start', 'end'] as const).map((grip) => (
          <rect
            key={grip}
            className="edge-handle"
            data-grip={grip}
            x={(grip === 'start' ? start : end) - GRIP / 2}
            y={height / 2}
            width={GRIP}
            height={height / 2}
            onPointerDown={(event) => actions.grabFix(event, fix, grip)}
          />
        ))}
      </g>
    );
  });
}
