import { useRef, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import { Choice, FieldLine, NumberBox } from '../../app/controls';
import { counted } from '../../app/counted';
import { countOf, spanOf, writtenKeys } from './sheet';

interface ShapeMenuProps {
  readonly clip: Clip;
  readonly keys: Chosen;
  readonly joints: readonly string[];
  readonly snap: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
}

const MOST_TRAIL = 12;

/** Keys shaped: softened or sharpened, trailing along a chain, or retimed by a range; seen while it is drawn. */
export function ShapeMenu({ clip, keys, joints, snap, onEdit, onPreview }: ShapeMenuProps) {
  const length = clip.bench.length_frames;
  const span = spanOf(keys);
  const [share, setShare] = useState(0);
  const [trail, setTrail] = useState(0);
  const [range, setRange] = useState<readonly [number, number] | null>(null);
  const [pace, setPace] = useState(0.5);
  const [ramp, setRamp] = useState(0);
  const [ends, setEnds] = useState<'follow' | 'stay'>('follow');
  const toggle = useRef<HTMLButtonElement>(null);
  const count = countOf(keys);
  const off = !clip.may_change;
  const soften = (by: number): ClipEdit => ({
    kind: 'soften_keys',
    chosen: writtenKeys(keys),
    share: by / 100,
  });
  const trailing = (frames: number): ClipEdit => ({
    kind: 'trail_joints',
    joints: [...joints],
    frames,
    hold_feet: true,
  });
  const shown =
    range ?? (span && span[1] > span[0] ? [Math.floor(span[0]), Math.ceil(span[1])] : [0, length]);
  const retimed = (): ClipEdit => ({
    kind: 'retime_keys',
    start: shown[0],
    end: shown[1],
    pace,
    ramp_frames: ramp,
    ripple: ends === 'follow',
    snap,
  });
  /** What was drawn is made, and the hand begins at nothing again. */
  const make = (edit: ClipEdit) => {
    onEdit(edit);
    // The button that was pressed has nothing more to do: keys go on from the menu's own.
    toggle.current?.focus();
    setShare(0);
    setTrail(0);
  };
  const leave = () => {
    setShare(0);
    setTrail(0);
    setRange(null);
    onPreview(null);
  };
  return (
    <Dropdown align="end" autoClose="outside" onToggle={(open) => !open && leave()}>
      <Dropdown.Toggle
        ref={toggle}
        bsPrefix="icon-button"
        as="button"
        aria-label="Shape keys: soften, trail, retime"
        title="Shape keys: soften or sharpen, trail along a chain, retime a range"
        disabled={off}
      >
        <i className="bi bi-bezier2" aria-hidden="true" />
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={{ strategy: 'fixed' }} className="ghost-menu shape-menu">
        <h3>
          Soften, sharpen <em>{count ? counted(count, 'key') : 'choose keys first'}</em>
        </h3>
        <FieldLine name={share < 0 ? 'Sharpen' : 'Soften'}>
          <span className="pair">
            <input
              type="range"
              className="form-range"
              aria-label="Soften the chosen keys, in percent; below 0 sharpen them"
              min={-100}
              max={100}
              step={5}
              value={share}
              disabled={!count}
              onChange={(event) => {
                const by = Number(event.target.value);
                setShare(by);
                onPreview(by ? soften(by) : null);
              }}
            />
            <span className="number">{Math.abs(share)} %</span>
          </span>
        </FieldLine>
        <button
          type="button"
          className="btn btn-paper"
          disabled={!count || share === 0}
          onClick={() => make(soften(share))}
        >
          {share < 0 ? 'Sharpen them' : 'Soften them'}
        </button>
        <h3>
          Trail <em>{joints.length ? counted(joints.length, 'joint') : 'choose joints first'}</em>
        </h3>
        <FieldLine name="Frames a joint">
          <span className="pair">
            <input
              type="range"
              className="form-range"
              aria-label="Frames that each joint of the chain comes later"
              min={-MOST_TRAIL}
              max={MOST_TRAIL}
              step={0.5}
              value={trail}
              disabled={!joints.length}
              onChange={(event) => {
                const frames = Number(event.target.value);
                setTrail(frames);
                onPreview(frames ? trailing(frames) : null);
              }}
            />
            <span className="number">{trail} fr</span>
          </span>
        </FieldLine>
        <button
          type="button"
          className="btn btn-paper"
          disabled={!joints.length || trail === 0}
          onClick={() => make(trailing(trail))}
        >
          Let them trail
        </button>
        <h3>
          Retime keys <em>of a range</em>
        </h3>
        <FieldLine name="Frames">
          <span className="pair">
            <NumberBox
              label="First frame whose keys are retimed"
              value={shown[0]}
              onCommit={(start) => setRange([start, shown[1]])}
            />
            to
            <NumberBox
              label="Last frame whose keys are retimed"
              value={shown[1] - 1}
              onCommit={(last) => setRange([shown[0], last + 1])}
            />
          </span>
        </FieldLine>
        <FieldLine name="Pace, ramps">
          <span className="pair">
            <NumberBox
              label="Pace of the keys in percent"
              value={pace * 100}
              unit="%"
              smallest={1}
              onCommit={(value) => setPace(value / 100)}
            />
            <NumberBox
              label="Frames of the ramps of the keys"
              value={ramp}
              unit="fr"
              smallest={0}
              onCommit={setRamp}
            />
          </span>
        </FieldLine>
        <Choice<'follow' | 'stay'>
          label="What follows the range"
          value={ends}
          onChange={setEnds}
          options={[
            { value: 'follow', text: 'what follows moves', hint: 'The clip grows' },
            { value: 'stay', text: 'the ends stay', hint: 'The rest makes up for it' },
          ]}
        />
        <button type="button" className="btn btn-paper" onClick={() => make(retimed())}>
          Retime them
        </button>
      </Dropdown.Menu>
    </Dropdown>
  );
}
