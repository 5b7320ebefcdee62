import { useState } from 'react';
import type { ClipEdit } from '../../../api/clips';
import { Choice, NumberBox, Tick } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { framing } from '../curvePicture';
import type { CardProps } from './card';

type Method = 'match' | 'spread' | 'through' | 'overlap';
const METHODS: readonly { readonly value: Method; readonly text: string; readonly hint: string }[] =
  [
    { value: 'match', text: 'match ends', hint: 'The last key takes the first one’s value' },
    { value: 'spread', text: 'spread', hint: 'A smooth offset over the last frames' },
    { value: 'through', text: 'ease through', hint: 'Both ends meet half-way, with one slope' },
    {
      value: 'overlap',
      text: 'overlap',
      hint: 'The last frames blend into what precedes the start',
    },
  ];
const MOST_ROWS = 60;
/** Frames of a curve that are shown on either side of the seam. */
const SEEN = 5;
/** The longest bar stands for this many times the limit of “closed”. */
const FULL_BAR = 6;

/** The seam, joint by joint, worst first; and the ways to close it. */
export function SeamCard({ clip, player, onEdit, onPreview, onJoints, onFrame }: CardProps) {
  const { bench } = clip;
  const [method, setMethod] = useState<Method>('spread');
  const [frames, setFrames] = useState(6);
  const [hold, setHold] = useState(false);
  if (!bench.seam) return <p className="quiet">A clip that plays once has no seam.</p>;
  const reach = Math.max(1, Math.min(frames, Math.floor(bench.length_frames / 2)));
  const edit: ClipEdit = { kind: 'close_seam', method, frames: reach, hold_feet: hold };
  const open = bench.seam.joints.filter((gap) => gap.grade !== 'closed').length;
  return (
    <>
      <p>
        <b className={`grade is-${bench.seam.grade}`}>{bench.seam.grade}</b>, from frame{' '}
        <span className="number">{bench.length_frames - 1}</span> to{' '}
        <span className="number">0</span>
        <span className="quiet">
          {' '}
          · {open ? `${counted(open, 'joint')} to close` : 'every joint meets'}
        </span>
      </p>
      <ul className="gap-list">
        {bench.seam.joints.slice(0, MOST_ROWS).map((gap) => {
          return (
            <li key={gap.joint}>
              <button
                type="button"
                title="Show its curves at the seam"
                onClick={() => {
                  onJoints([gap.joint]);
                  player.pause();
                  player.goTo(0);
                  onFrame(framing(bench.length_frames - SEEN, bench.length_frames + SEEN));
                }}
              >
                <span>{gap.label}</span>
                <i className={`gap-bar is-${gap.grade}`}>
                  <i style={{ width: `${Math.min(100, (gap.over / FULL_BAR) * 100)}%` }} />
                </i>
                <span className="number">
                  {gap.gap_degrees.toFixed(1)}° {gap.gap_cm.toFixed(1)} cm{' '}
                  {gap.gap_degrees_per_frame.toFixed(1)}°/f
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      {clip.may_change && (
        <div className="close-line">
          <Choice<Method>
            label="How to close it"
            value={method}
            onChange={setMethod}
            options={METHODS}
          />
          <span className="pair">
            over
            <NumberBox
              label="Frames to close over"
              value={reach}
              smallest={1}
              unit="fr"
              disabled={method === 'match'}
              onCommit={(value) => setFrames(Math.round(value))}
            />
          </span>
          <Tick label="Hold the feet" checked={hold} onChange={setHold} />
          <button
            type="button"
            className="btn btn-lamp"
            onPointerEnter={() => onPreview(edit)}
            onPointerLeave={() => onPreview(null)}
            onFocus={() => onPreview(edit)}
            onBlur={() => onPreview(null)}
            onClick={() => onEdit(edit)}
            title="Point at it to see the change"
          >
            Close
          </button>
        </div>
      )}
    </>
  );
}
