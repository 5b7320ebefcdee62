import type { Schemas } from '../../../api/client';
import { FieldLine, IconButton, NumberBox } from '../../../app/controls';
import { heldAt } from '../../../player/heldAt';
import type { CardProps } from './card';

interface FigureSizeProps extends Pick<CardProps, 'desk' | 'head' | 'onEdit'> {
  readonly figure: Schemas['SceneFigure'];
  readonly disabled: boolean;
}

/** How large a figure is: one size, or keys of it; between them it grows about the foot it stands on. */
export function FigureSize({ desk, head, figure, disabled, onEdit }: FigureSizeProps) {
  const keys = desk.size_keys[figure.id] ?? [];
  const size = figure.size ?? 1;
  const first = desk.first_frame;
  const key = (frame: number, wanted: number | null) =>
    onEdit({ kind: 'key_size', figure: figure.id, frame, size: wanted });
  return (
    <>
      {keys.length === 0 && (
        <FieldLine name="Size">
          <NumberBox
            label="Size of the figure in percent: its stride grows with it"
            value={size * 100}
            decimals={1}
            unit="%"
            smallest={5}
            largest={2000}
            disabled={disabled}
            onCommit={(percent) =>
              onEdit({ kind: 'set_size', figure: figure.id, size: percent / 100 })
            }
          />
        </FieldLine>
      )}
      {keys.map((held) => (
        <FieldLine key={held.frame} name={`Size at ${held.frame + first}`}>
          <span className="pair">
            <NumberBox
              label={`Size at ${held.frame + first}, in percent`}
              value={held.size * 100}
              decimals={1}
              unit="%"
              smallest={5}
              largest={2000}
              disabled={disabled}
              onCommit={(percent) => key(held.frame, percent / 100)}
            />
            {!disabled && (
              <IconButton
                icon="x"
                label={`Take away the key of the size at ${held.frame + first}`}
                onClick={() => key(held.frame, null)}
              />
            )}
          </span>
        </FieldLine>
      ))}
      {!disabled && (
        <button
          type="button"
          className="btn btn-paper"
          title="It grows or shrinks from key to key, about the foot it stands on"
          onClick={() => key(head.frame, heldAt(keys, head.frame)?.size ?? size)}
        >
          Key the size at the playhead
        </button>
      )}
    </>
  );
}
