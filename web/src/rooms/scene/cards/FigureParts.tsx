import { useQuery } from '@tanstack/react-query';
import type { Schemas } from '../../../api/client';
import { FieldLine, IconButton, NumberBox } from '../../../app/controls';
import { heldAt } from '../../../player/heldAt';
import { useFrame } from '../../../player/useFrame';
import { costumeQuery } from '../../../stage/Filmstrip';
import { useLibrary } from '../../library/useLibrary';
import type { CardProps } from './card';

interface FigurePartsProps extends Pick<CardProps, 'scene' | 'desk' | 'head' | 'onEdit'> {
  readonly figure: Schemas['SceneFigure'];
  readonly disabled: boolean;
}

/** The parts of a cut-out: which lies over which, from the playhead on, and the drawings that they show. */
export function FigureParts({ scene, desk, head, figure, disabled, onEdit }: FigurePartsProps) {
  const { data: costume } = useQuery(costumeQuery(figure.figure));
  const { data: library } = useLibrary(scene.production);
  const frame = Math.round(useFrame(head));
  const cards = costume?.figure.dress?.cards ?? [];
  if (!cards.length) return null;
  const keys = figure.card_orders ?? [];
  const orderOf = (card: (typeof cards)[number]): number =>
    heldAt(
      keys.filter((key) => key.card === card.name),
      frame,
    )?.order ??
    card.order ??
    0;
  const lane = (part: string) =>
    desk.lanes.find(
      ({ target }) => target.kind === 'part' && target.figure === figure.id && target.part === part,
    );
  return (
    <section aria-label="Its parts">
      <h3>
        Its parts <em>from front to back</em>
      </h3>
      {[...cards]
        .sort((a, b) => orderOf(b) - orderOf(a))
        .map((card) => {
          const isKeyed = keys.some((key) => key.card === card.name && key.frame === frame);
          const runs = library?.runs.filter(
            (run) => run.drawings !== null && run.drawings === card.drawings,
          );
          return (
            <FieldLine key={card.name} name={card.name}>
              <span className="pair">
                {runs && runs.length > 0 && !lane(card.name) && !disabled && (
                  <select
                    className="form-select w-auto"
                    aria-label={`Drawings of ${card.name}`}
                    value=""
                    onChange={({ target }) =>
                      onEdit({
                        kind: 'draw_part',
                        figure: figure.id,
                        part: card.name,
                        run: target.value,
                        lane: null,
                        start: 0,
                      })
                    }
                  >
                    <option value="">shows …</option>
                    {runs.map((run) => (
                      <option key={run.id} value={run.id}>
                        {run.name}
                      </option>
                    ))}
                  </select>
                )}
                <NumberBox
                  label={`Order of ${card.name} from the playhead on`}
                  value={orderOf(card)}
                  smallest={-1000}
                  largest={1000}
                  disabled={disabled}
                  onCommit={(order) =>
                    onEdit({ kind: 'order_card', figure: figure.id, card: card.name, frame, order })
                  }
                />
                {isKeyed && !disabled && (
                  <IconButton
                    icon="x"
                    label={`Delete the order of ${card.name} at ${frame + desk.first_frame}`}
                    onClick={() =>
                      onEdit({
                        kind: 'order_card',
                        figure: figure.id,
                        card: card.name,
                        frame,
                        order: null,
                      })
                    }
                  />
                )}
              </span>
            </FieldLine>
          );
        })}
    </section>
  );
}
