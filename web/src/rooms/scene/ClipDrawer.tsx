import { type PointerEvent, useState } from 'react';
import { createPortal } from 'react-dom';
import type { Schemas } from '../../api/client';
import { newId } from '../../api/newId';
import { IconButton } from '../../app/controls';
import { Name } from '../../app/Name';
import { Filmstrip } from '../../stage/Filmstrip';
import { lengthOf, PencilMark, SeamStamp } from '../library/ClipFacts';
import { isFound } from '../library/seeking';

type Clip = Schemas['ClipCard'];

/** A clip on its way to the desk, and the name of the stint it becomes. */
export interface Laid {
  readonly clip: Clip;
  readonly stint: string;
}

interface DrawerProps {
  readonly clips: readonly Clip[];
  readonly mayChange: boolean;
  readonly isOpen: boolean;
  readonly onOpen: (open: boolean) => void;
  readonly onDrag: (laid: Laid, clientX: number, clientY: number) => void;
  readonly onDrop: (laid: Laid, clientX: number, clientY: number) => void;
  readonly onCancel: () => void;
  /** Without a mouse: lay the clip at the playhead. */
  readonly onPlace: (laid: Laid) => void;
  /** Without a mouse: lay it next to the chosen stint, where the two join best. */
  readonly onPlaceNext: (laid: Laid) => void;
}

const DRAG_THRESHOLD = 4;

/** The production's clips, to be drawn down onto the desk. */
export function ClipDrawer(props: DrawerProps) {
  const { clips: all, mayChange, isOpen, onOpen, onDrag, onDrop, onCancel } = props;
  const [sought, setSought] = useState('');
  const clips = all.filter((clip) => isFound(clip, sought));
  const [flying, setFlying] = useState<{ clip: Clip; x: number; y: number } | null>(null);

  const grab = (event: PointerEvent, clip: Clip) => {
    if (!mayChange || event.button !== 0) return;
    const from = { x: event.clientX, y: event.clientY };
    // One name from the first preview to the drop, so that the stint can be grabbed again at once.
    const laid = { clip, stint: newId() };
    let off = false;
    const move = (moved: globalThis.PointerEvent) => {
      off ||= Math.hypot(moved.clientX - from.x, moved.clientY - from.y) > DRAG_THRESHOLD;
      if (!off) return;
      setFlying({ clip, x: moved.clientX, y: moved.clientY });
      onDrag(laid, moved.clientX, moved.clientY);
    };
    const finish = () => {
      setFlying(null);
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', drop);
      window.removeEventListener('keydown', cancelByKey, true);
    };
    const drop = (dropped: globalThis.PointerEvent) => {
      finish();
      if (off) onDrop(laid, dropped.clientX, dropped.clientY);
    };
    const cancelByKey = (pressed: globalThis.KeyboardEvent) => {
      if (pressed.key !== 'Escape') return;
      finish();
      onCancel();
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', drop);
    window.addEventListener('keydown', cancelByKey, true);
  };

  return (
    <aside className="drawer" aria-label="Clips">
      <div className="sheet-head">
        <h2>Clips</h2>
        <span className="quiet number">{clips.length}</span>
        <span className="grow" />
        <IconButton
          icon={isOpen ? 'chevron-bar-left' : 'chevron-bar-right'}
          label={isOpen ? 'Fold the clips away' : 'Unfold the clips'}
          onClick={() => onOpen(!isOpen)}
        />
      </div>
      {all.length > 6 && (
        <input
          type="search"
          className="form-control seek"
          aria-label="Find a clip"
          placeholder="Find a clip"
          value={sought}
          onChange={(event) => setSought(event.target.value)}
        />
      )}
      {all.length > 0 && clips.length === 0 && <p className="quiet p-3">No clip is called that.</p>}
      {all.length === 0 && (
        <p className="quiet p-3">No clips yet. Bring a motion file into the library first.</p>
      )}
      <ul className="clips">
        {clips.map((clip) => (
          <li key={clip.id}>
            {/* biome-ignore lint/a11y/useSemanticElements: a card that is dragged, with a button's role and keys */}
            <div
              className="slip clip is-pressable"
              role="button"
              tabIndex={0}
              aria-label={`${clip.name}, ${lengthOf(clip)}, for ${clip.figure_name}. Drag it to a lane, or to a stint’s end where both join best. Enter lays it at the playhead, Shift and Enter next to the chosen stint.`}
              data-clip={clip.name}
              onPointerDown={(event) => grab(event, clip)}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' || !mayChange) return;
                event.stopPropagation();
                const lay = event.shiftKey ? props.onPlaceNext : props.onPlace;
                lay({ clip, stint: newId() });
              }}
            >
              <span className="line">
                <PencilMark colour={clip.colour} />
                <Name className="name" text={clip.name} />
                <span className="length number">{clip.length_frames} fr</span>
              </span>
              <span className="strip-line">
                <Filmstrip
                  clip={clip.id}
                  figure={clip.figure}
                  changed={clip.changed}
                  label={`${clip.name}, five poses`}
                />
                <SeamStamp clip={clip} />
              </span>
            </div>
          </li>
        ))}
      </ul>
      {flying &&
        createPortal(
          <div className="flying-clip" style={{ left: flying.x + 12, top: flying.y + 10 }}>
            {flying.clip.name}
          </div>,
          document.body,
        )}
    </aside>
  );
}
