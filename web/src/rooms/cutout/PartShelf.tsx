import { Choice, FieldLine, IconButton, NumberBox } from '../../app/controls';
import { Name } from '../../app/Name';
import { withCutOutKey } from './cutOutKeys';
import { PaintedPicture } from './PaintedPicture';
import { PartFields } from './PartFields';
import { type CutOutParts, laid } from './room';

const LOOKS = [
  { value: 'left', text: 'Left' },
  { value: 'right', text: 'Right' },
] as const;

/** How the figure stands, and its parts from front to back. */
export function PartShelf({ room }: { readonly room: CutOutParts }) {
  const { view, sheet, chosen, onChoose, onEdit } = room;
  const { may_change: mayChange } = view;
  const { height_metres: height = 1.8, looks = 'right' } = sheet.cut_out;
  const names = sheet.parts.map(({ part }) => part.name);
  const lay = (part: string, towards: 'front' | 'back') => {
    const order = laid(names, part, towards);
    if (order) onEdit({ kind: 'lay_parts', parts: [...order] });
  };
  return (
    <section className="part-shelf" aria-label="Parts">
      <header>
        <FieldLine name="A sheet is" isFirst>
          <NumberBox
            label="Height of a sheet"
            value={height}
            unit="m"
            decimals={2}
            smallest={0.01}
            largest={1000}
            disabled={!mayChange}
            onCommit={(metres) =>
              onEdit({ kind: 'stand_cut_out', height_metres: metres, looks: null })
            }
          />
        </FieldLine>
        <FieldLine name="It looks to the">
          <Choice
            label="It looks to the"
            options={LOOKS}
            value={looks}
            disabled={!mayChange}
            onChange={(way) => onEdit({ kind: 'stand_cut_out', looks: way, height_metres: null })}
          />
        </FieldLine>
        <h2>
          Parts <em className="quiet">from front to back</em>
        </h2>
      </header>
      <ol>
        {[...sheet.parts].reverse().map((one) => {
          const { part } = one;
          const picture = view.pictures[String(part.drawings[0])];
          const isChosen = chosen === part.name;
          return (
            <li key={part.name} className={isChosen ? 'is-chosen' : ''}>
              <div className="part-line">
                <button
                  type="button"
                  className="part-name"
                  aria-pressed={isChosen}
                  aria-label={part.name}
                  onClick={() => onChoose(isChosen ? null : part.name)}
                >
                  {picture && <PaintedPicture production={view.production} picture={picture} />}
                  <Name text={part.name} />
                  <small className="quiet">
                    {part.parent ? `on ${part.parent}` : 'carries the figure'}
                  </small>
                </button>
                {mayChange && isChosen && (
                  <span className="pair">
                    <IconButton
                      icon="arrow-up"
                      label={withCutOutKey(`${part.name} nearer to the front`, 'front')}
                      disabled={names.at(-1) === part.name}
                      onClick={() => lay(part.name, 'front')}
                    />
                    <IconButton
                      icon="arrow-down"
                      label={withCutOutKey(`${part.name} nearer to the back`, 'back')}
                      disabled={names[0] === part.name}
                      onClick={() => lay(part.name, 'back')}
                    />
                  </span>
                )}
              </div>
              {isChosen && <PartFields key={part.name} room={room} one={one} />}
            </li>
          );
        })}
      </ol>
      {sheet.unused.length > 0 && (
        <footer>
          <span className="quiet">Of no part:</span>
          {sheet.unused.slice(0, MOST_UNUSED).map((drawing) => (
            <button
              key={drawing}
              type="button"
              className="btn btn-quiet"
              disabled={!mayChange}
              aria-label={`Make a part of drawing ${drawing}`}
              title={`Make a part of drawing ${drawing}`}
              onClick={() => {
                const part = freeName(`part ${drawing}`, names);
                onEdit({ kind: 'add_part', part, drawing, pivot: [0, 0.5] });
                onChoose(part);
              }}
            >
              {drawing} +
            </button>
          ))}
        </footer>
      )}
    </section>
  );
}

const MOST_UNUSED = 24;

const freeName = (name: string, taken: readonly string[]): string =>
  taken.includes(name) ? freeName(`${name} too`, taken) : name;
