import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { bakeStint } from '../../../api/scenes';
import { FieldLine, NumberBox } from '../../../app/controls';
import { useNotices } from '../../../app/notices';
import { withKey } from '../../../app/shortcuts';
import { useFrame } from '../../../player/useFrame';
import type { CardProps } from './card';
import { ExposureField } from './ExposureField';
import { HoldHere } from './HoldHere';

interface StintTimeProps extends Pick<CardProps, 'scene' | 'desk' | 'head' | 'options' | 'onEdit'> {
  readonly lane: Schemas['DeskLane'];
  readonly stint: Schemas['DeskStint'];
  readonly disabled: boolean;
  readonly onSlow: () => void;
}

/** A stint's own time: “source 90 plays at 36”, slowing, holding, turning round, and how long poses stay. */
export function StintTime(props: StintTimeProps) {
  const { scene, desk, head, options, lane, stint, disabled, onEdit, onSlow } = props;
  const { ripple } = options;
  const [source, setSource] = useState<number | null>(null);
  const first = desk.first_frame;
  const playhead = useFrame(head);
  const of = stint.id;
  const notices = useNotices();
  const [isBusy, setBusy] = useState(false);
  const bake = async () => {
    setBusy(true);
    try {
      const name = `${stint.name} baked`.slice(0, 120);
      const { clip } = await bakeStint(scene.id, { stint: of, name });
      onEdit({ kind: 'use_bake', stint: of, clip });
    } catch (problem) {
      notices.trouble(problem);
    } finally {
      setBusy(false);
    }
  };
  return (
    <section aria-label="Its time">
      <h3>
        Its time <em>{stint.is_straight ? 'as made' : 'bent'}</em>
      </h3>
      <FieldLine name="Source">
        <span className="pair">
          <NumberBox
            label="Frame of the clip that is to be pinned"
            value={source ?? Math.round(stint.numbers.clip_from)}
            decimals={2}
            disabled={disabled}
            onCommit={setSource}
          />
          plays at
          <NumberBox
            label="Frame of the scene that it is to play at"
            value={playhead + first}
            decimals={2}
            disabled={disabled || source === null}
            onCommit={(at) => {
              if (source !== null)
                onEdit({ kind: 'pin_source', stint: of, source, played: at - first, ripple });
            }}
          />
        </span>
      </FieldLine>
      <ExposureField
        name="Exposure"
        of={{ stint: of }}
        exposure={stint.exposure}
        above={`as its lane, ${lane.exposure.said}`}
        desk={desk}
        disabled={disabled}
        onEdit={onEdit}
      />
      {!disabled && <HoldHere stint={of} head={head} ripple={ripple} onEdit={onEdit} />}
      {!disabled && (
        <div className="button-grid">
          <button
            type="button"
            className="btn btn-paper"
            title={withKey('Slow or hurry a part of it', 'slow')}
            onClick={onSlow}
          >
            Slow this
          </button>
          <button
            type="button"
            className="btn btn-paper"
            title="Play it from its end to its beginning"
            onClick={() => onEdit({ kind: 'turn_round', stint: of })}
          >
            Turn round
          </button>
          <button
            type="button"
            className="btn btn-paper"
            title="Take its elastic out: it plays as made"
            disabled={stint.is_straight}
            onClick={() => onEdit({ kind: 'straighten', stint: of, ripple })}
          >
            Straighten
          </button>
          <button
            type="button"
            className="btn btn-paper"
            title="A clip of its own with a key on each frame; the elastic is straight then"
            disabled={isBusy || lane.target.kind !== 'body'}
            onClick={() => void bake()}
          >
            Bake
          </button>
        </div>
      )}
    </section>
  );
}
