import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import type { Crossing } from '../useCrossing';
import type { Edit } from '../useScene';

interface CrossStageProps {
  readonly stint: Schemas['DeskStint'];
  /** A walk's stride now, in metres. */
  readonly roundMetres: number;
  readonly mark: readonly [number, number, number];
  readonly crossing: Crossing;
  readonly disabled: boolean;
  readonly onEdit: (edit: Edit) => void;
}

const AHEAD_METRES = 4;
type Place = readonly [number, number];

/** A walk from here to there in so many frames: by numbers, or drawn on the ground. */
export function CrossStage(props: CrossStageProps) {
  const { stint, roundMetres, mark, crossing, disabled, onEdit } = props;
  const [start, setStart] = useState<Place>([mark[0], mark[1]]);
  const [to, setTo] = useState<Place>([
    mark[0] + AHEAD_METRES * Math.sin(mark[2]),
    mark[1] + AHEAD_METRES * Math.cos(mark[2]),
  ]);
  const { options, onOptions } = crossing;
  const frames = options.frames ?? Math.round(stint.end - stint.start);
  const box = (place: Place, axis: 0 | 1, label: string, set: (place: Place) => void) => (
    <NumberBox
      label={label}
      value={place[axis]}
      decimals={2}
      unit="m"
      disabled={disabled}
      onCommit={(metres) => set(axis === 0 ? [metres, place[1]] : [place[0], metres])}
    />
  );
  return (
    <section aria-label="Cross the stage">
      <h3>
        Cross the stage{' '}
        <em>
          a round is {roundMetres.toFixed(2)} m
          {stint.stride !== 1 && `, ${Math.round(stint.stride * 100)} % of its own`}
        </em>
      </h3>
      <FieldLine name="From x, z">
        <span className="pair">
          {box(start, 0, 'Across, where it sets off', setStart)}
          {box(start, 1, 'Along, where it sets off', setStart)}
        </span>
      </FieldLine>
      <FieldLine name="To x, z">
        <span className="pair">
          {box(to, 0, 'Across, where it arrives', setTo)}
          {box(to, 1, 'Along, where it arrives', setTo)}
        </span>
      </FieldLine>
      <FieldLine name="In">
        <NumberBox
          label="Frames that it takes to cross"
          value={frames}
          unit="fr"
          smallest={2}
          disabled={disabled}
          onCommit={(wanted) => onOptions({ ...options, frames: wanted })}
        />
      </FieldLine>
      <Choice
        label="Its stride"
        value={options.stride}
        disabled={disabled}
        onChange={(stride) => onOptions({ ...options, stride })}
        options={[
          { value: 'made', text: 'stride as made', hint: 'Its steps come faster or slower' },
          { value: 'fitted', text: 'stride fitted', hint: 'Its steps are longer or shorter' },
        ]}
      />
      <div className="button-grid">
        <button
          type="button"
          className="btn btn-paper"
          disabled={disabled}
          onClick={() => onEdit(crossing.edit(stint, start, to))}
        >
          Cross
        </button>
        <button
          type="button"
          className="btn btn-paper"
          aria-pressed={crossing.drawn === stint.id}
          disabled={disabled}
          title="In Plan, press where it sets off and draw to where it arrives"
          onClick={() => crossing.draw(crossing.drawn === stint.id ? null : stint.id)}
        >
          Draw it in Plan
        </button>
      </div>
    </section>
  );
}
