/** What the parts of the drawings room share. */

import type {
  DrawnSet,
  PlacedDrawing,
  Run,
  RunEdit,
  RunSheet,
  SetDrawing,
} from '../../api/drawings';
import type { Player, Range } from '../../player/player';
import type { PictureStore } from '../../stage/pictureStore';
import type { DrawingsMemory } from './drawingsMemory';
import type { Nudge } from './useNudging';
import type { SetHands } from './useSetChange';

/** A drawing of the set with where its picture lies. */
export interface Drawing extends SetDrawing {
  readonly placed: PlacedDrawing;
}

export interface DrawingsRoomParts {
  /** The run as it is shown: as it stands, as a drag would make it, or as it was. */
  readonly run: Run;
  readonly sheet: RunSheet;
  readonly fps: number;
  /** Its set; none while it is read, or where it is gone. */
  readonly drawn: DrawnSet | null;
  readonly drawings: ReadonlyMap<number, Drawing>;
  readonly pictures: PictureStore;
  readonly player: Player;
  readonly memory: DrawingsMemory;
  readonly change: (part: Partial<DrawingsMemory>) => void;
  readonly onEdit: (edit: RunEdit) => void;
  readonly onPreview: (edit: RunEdit | null) => void;
  readonly set: SetHands;
  /** A drawing that is nudged by keys, and is not saved yet. */
  readonly nudge: Nudge | null;
  readonly onNudge: (number: number, from: readonly [number, number], x: number, y: number) => void;
  /** A drawing of the set that is looked at by itself; none is the one that the run shows. */
  readonly looked: number | null;
  readonly onLook: (drawing: number | null) => void;
  readonly rows: Range | null;
  readonly onRows: (rows: Range | null) => void;
  readonly goTo: (frame: number) => void;
}

export const FIRST_FRAME = 1;
