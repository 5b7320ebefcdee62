import { type DragEvent, type MouseEvent, useRef, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { DRAWING_ENDINGS, keepPicture } from '../../api/drawings';
import { IconButton } from '../../app/controls';
import { Name } from '../../app/Name';
import { useNotices } from '../../app/notices';
import { useFrame } from '../../player/useFrame';
import { BringDrawingsSheet } from '../library/BringDrawingsSheet';
import type { Drawing, DrawingsRoomParts } from './room';
import { SmallDrawing } from './SmallDrawing';
import { shownAt } from './shown';

/** The set as small numbered sheets in their order, with the places of those that are missing. */
export function SetShelf({ room }: { readonly room: DrawingsRoomParts }) {
  const { drawn, drawings, sheet, looked, onLook, memory, change, run } = room;
  const frame = useFrame(room.player);
  const here = looked ?? shownAt(sheet.shown, frame)?.drawing;
  const [coming, setComing] = useState<readonly File[] | null>(null);
  const [isOver, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  if (!drawn) {
    return (
      <section className="set-shelf" aria-label="The drawing set">
        <p className="quiet p-3">
          {run.run.run.drawings ? 'Its drawings are being read …' : 'This run has no drawing set.'}
        </p>
      </section>
    );
  }
  const { missing, same } = drawn.drawings;
  const slots = [...drawings.keys(), ...missing.slice(0, MOST_GAPS)].sort((a, b) => a - b);
  const unused = new Set(sheet.unused);
  const twice = new Set(same.flatMap((numbers) => numbers.slice(1)));
  const press = (event: MouseEvent, number: number) => {
    if (event.ctrlKey || event.metaKey) {
      const isLaid = memory.laid.includes(number);
      change({
        laid: isLaid ? memory.laid.filter((one) => one !== number) : [...memory.laid, number],
      });
      return;
    }
    const plays = sheet.shown.find(({ drawing }) => drawing === number);
    onLook(looked === number ? null : number);
    if (plays && looked !== number) {
      room.goTo(plays.frame);
      onLook(null);
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    event.stopPropagation();
    setOver(false);
    const files = [...event.dataTransfer.files];
    if (files.length && drawn.may_change) setComing(files);
  };
  return (
    <section
      className={`set-shelf ${isOver ? 'is-over' : ''}`}
      aria-label="The drawing set"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (event.currentTarget === event.target) setOver(false);
      }}
      onDrop={drop}
    >
      <header>
        <Name as="h2" text={drawn.name} />
        <span className="quiet number">{drawings.size} drawings</span>
        <span className="grow" />
        {drawn.may_change && (
          <>
            <input
              ref={picker}
              type="file"
              accept={DRAWING_ENDINGS}
              multiple
              hidden
              data-testid="drawing-files"
              onChange={({ target }) => {
                const files = [...(target.files ?? [])];
                if (files.length) setComing(files);
                target.value = '';
              }}
            />
            <IconButton
              icon="plus-lg"
              label="Add drawings to the set"
              onClick={() => picker.current?.click()}
            />
          </>
        )}
      </header>
      <ul className="set-sheets">
        {slots.map((number) => {
          const drawing = drawings.get(number);
          if (!drawing) {
            return (
              <li key={number} className="set-sheet is-missing">
                <b className="number">{number}</b>
                <span>is missing</span>
              </li>
            );
          }
          const classes = [
            'set-sheet',
            number === here ? 'is-here' : '',
            unused.has(number) ? 'is-unused' : '',
            memory.laid.includes(number) ? 'is-laid' : '',
          ].join(' ');
          return (
            <li key={number} className={classes}>
              <button
                type="button"
                aria-label={`Drawing ${number}${unused.has(number) ? ', not in the run' : ''}`}
                aria-pressed={number === here}
                title={`${drawing.name || `Drawing ${number}`}${unused.has(number) ? ': not in this run’s order' : ''}`}
                onClick={(event) => press(event, number)}
              >
                <b className="number">{number}</b>
                <SmallDrawing room={room} number={number} />
                {twice.has(number) && <small className="is-same">same picture</small>}
              </button>
              {drawn.may_change && <SheetMenu room={room} drawing={drawing} />}
            </li>
          );
        })}
      </ul>
      <footer>
        <span>
          Numbered {slots[0]} to {slots[slots.length - 1]}
        </span>
        <span className="grow" />
        {missing.length > 0 && (
          <span className="stamp warn">
            {missing.length === 1 ? `${missing[0]} is missing` : `${missing.length} are missing`}
          </span>
        )}
        {drawn.undo && drawn.may_change && (
          <IconButton
            icon="arrow-counterclockwise"
            label={`In the set, undo: ${drawn.undo}`}
            onClick={() => room.set.undo()}
          />
        )}
      </footer>
      {coming && (
        <BringDrawingsSheet
          production={drawn.production}
          files={coming}
          into={{ id: drawn.id, name: drawn.name, numbers: [...drawings.keys()] }}
          onClose={() => setComing(null)}
          onIn={() => void room.set.settle()}
        />
      )}
    </section>
  );
}

const MOST_GAPS = 200;

/** What can be done with one drawing. */
function SheetMenu({
  room,
  drawing,
}: {
  readonly room: DrawingsRoomParts;
  readonly drawing: Drawing;
}) {
  const { set, run, sheet, onEdit } = room;
  const { number } = drawing;
  const notices = useNotices();
  const picker = useRef<HTMLInputElement>(null);
  const replace = async (file: File | undefined) => {
    if (!file) return;
    try {
      const picture = await keepPicture(run.production, file, new AbortController().signal);
      set.change({ kind: 'replace_drawing', number, picture, name: file.name });
    } catch (problem) {
      notices.trouble(problem);
    }
  };
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept=".png,.jpg,.jpeg,.webp,.gif,.svg"
        hidden
        data-testid={`replace-${number}`}
        onChange={({ target }) => {
          void replace(target.files?.[0]);
          target.value = '';
        }}
      />
      <Dropdown align="end">
        <Dropdown.Toggle
          bsPrefix="icon-button sheet-menu"
          as="button"
          aria-label={`What to do with drawing ${number}`}
        >
          <i className="bi bi-three-dots" aria-hidden="true" />
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {run.may_change && (
            <Dropdown.Item
              as="button"
              onClick={() =>
                onEdit({
                  kind: 'insert_drawings',
                  place: Math.min(9_999, sheet.run.held.length),
                  held: [{ drawing: number, frames: sheet.pattern?.[0] ?? 2 }],
                })
              }
            >
              Add it to the order
            </Dropdown.Item>
          )}
          <Dropdown.Item as="button" onClick={() => picker.current?.click()}>
            Replace its picture …
          </Dropdown.Item>
          {(drawing.shift_pixels?.some(Boolean) || drawing.turn_degrees || drawing.scale !== 1) && (
            <Dropdown.Item
              as="button"
              onClick={() =>
                set.change({
                  kind: 'nudge_drawing',
                  number,
                  shift_pixels: [0, 0],
                  turn_degrees: 0,
                  scale: 1,
                })
              }
            >
              Back on its pegs
            </Dropdown.Item>
          )}
          <Dropdown.Item
            as="button"
            onClick={() => set.change({ kind: 'drop_drawings', numbers: [number] })}
          >
            Take it out of the set
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
    </>
  );
}
