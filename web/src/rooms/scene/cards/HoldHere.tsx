import { useState } from 'react';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import type { LaidHead } from '../../../player/laidHead';
import type { Edit } from '../useScene';

interface HoldHereProps {
  readonly stint: string;
  readonly head: LaidHead;
  readonly ripple: boolean;
  readonly onEdit: (edit: Edit) => void;
}

const HELD_AT_FIRST = 8;

/** The pose at the playhead stands for so many frames more; what follows moves on, on its lane or on every one. */
export function HoldHere({ stint, head, ripple, onEdit }: HoldHereProps) {
  const [frames, setFrames] = useState(HELD_AT_FIRST);
  const [allLanes, setAllLanes] = useState(false);
  return (
    <>
      <FieldLine name="Hold for">
        <span className="pair">
          <NumberBox
            label="Frames that the pose at the playhead is held for"
            value={frames}
            unit="fr"
            smallest={1}
            onCommit={setFrames}
          />
          <button
            type="button"
            className="btn btn-paper"
            title={
              ripple
                ? 'The pose at the playhead stands so long; what follows moves on'
                : 'The pose at the playhead stands so long; the rest plays faster to make up for it'
            }
            onClick={() =>
              onEdit({
                kind: 'hold_frame',
                stint,
                frame: head.frame,
                frames,
                ripple,
                all_lanes: ripple && allLanes,
              })
            }
          >
            Hold here
          </button>
        </span>
      </FieldLine>
      {ripple && (
        <Tick
          label="A hold moves every lane on"
          hint="What other lanes have from there on moves along, with beats and fixes"
          checked={allLanes}
          onChange={setAllLanes}
        />
      )}
    </>
  );
}
