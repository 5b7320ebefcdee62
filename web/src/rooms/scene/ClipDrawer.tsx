import { type ReactNode, useState } from 'react';
import type { Schemas } from '../../api/client';
import { newId } from '../../api/newId';
import { IconButton } from '../../app/controls';
import { Name } from '../../app/Name';
import { Filmstrip } from '../../stage/Filmstrip';
import { lengthOf, PencilMark, SeamStamp } from '../library/ClipFacts';
import { isFound } from '../library/seeking';
import { FlyingName } from './FlyingName';
import { type Flight, useFlight } from './useFlight';

type Clip = Schemas['ClipCard'];

/** A clip on its way to the desk, and the name of the stint it becomes. */
export interface Laid {
  readonly clip: Clip;
  readonly stint: string;
}

interface DrawerProps extends Flight<Laid> {
  readonly clips: readonly Clip[];
  readonly mayChange: boolean;
  readonly isOpen: boolean;
  readonly onOpen: (open: boolean) => void;
  /** Without a mouse: lay the clip at the playhead. */
  readonly onPlace: (laid: Laid) => void;
  /** Without a mouse: lay it next to the chosen stint, where the two join best. */
  readonly onPlaceNext: (laid: Laid) => void;
  /** What else is in the drawer, under the clips. */
  readonly children?: ReactNode;
}

/** The production's clips, to be drawn down onto the desk. */
export function ClipDrawer(props: DrawerProps) {
  const { clips: all, mayChange, isOpen, onOpen, children } = props;
  const [sought, setSought] = useState('');
  const clips = all.filter((clip) => isFound(clip, sought));
  const { flying, grab } = useFlight<Laid>(props);

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
              // One name from the first preview to the drop, so that the stint can be grabbed again at once.
              onPointerDown={(event) => mayChange && grab(event, { clip, stint: newId() })}
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
      {flying && <FlyingName at={flying} name={flying.what.clip.name} />}
      {children}
    </aside>
  );
}
