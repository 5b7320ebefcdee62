import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox } from '../../../app/controls';
import { heldAt } from '../../../player/heldAt';
import { useFrame } from '../../../player/useFrame';
import type { CardProps } from '../cards/card';

interface PinShownProps extends Pick<CardProps, 'desk' | 'head' | 'onEdit'> {
  readonly stint: Schemas['DeskStint'];
}

/** “Drawing 7 at frame 30”, as a pin of the stint’s elastic. */
export function PinShown({ desk, head, stint, onEdit }: PinShownProps) {
  const frame = Math.round(useFrame(head));
  const [typed, setTyped] = useState<{ drawing?: number; frame?: number }>({});
  const here = heldAt(stint.exposed, frame) ?? stint.exposed[0];
  const drawing = typed.drawing ?? here?.drawing ?? 1;
  const at = typed.frame ?? frame + desk.first_frame;
  return (
    <FieldLine name="Drawing">
      <span className="pair">
        <NumberBox
          label="Drawing to pin"
          value={drawing}
          smallest={0}
          largest={999_999_999}
          onCommit={(wanted) => setTyped({ ...typed, drawing: wanted })}
        />
        <span className="quiet">at</span>
        <NumberBox
          label="Frame to pin it to"
          value={at}
          onCommit={(wanted) => setTyped({ ...typed, frame: wanted })}
        />
        <button
          type="button"
          className="btn btn-paper"
          onClick={() => {
            const laid = at - desk.first_frame;
            onEdit({ kind: 'pin_shown', stint: stint.id, drawing, frame: laid });
            setTyped({});
          }}
        >
          Pin it
        </button>
      </span>
    </FieldLine>
  );
}
