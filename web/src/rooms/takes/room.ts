/** What the parts of the takes room share. */

import type { Cleaned, Cycle, Looked, Take, TakeEdit } from '../../api/takes';
import type { Player } from '../../player/player';
import type { StageView } from '../../stage/scene';
import type { TakesMemory } from './takesMemory';

export interface TakesRoomParts {
  /** The take as it is shown: as it stands, as a drag would make it, or as it was. */
  readonly take: Take;
  readonly cleaned: Cleaned | null;
  /** What is shown is being worked out anew. */
  readonly isWorking: boolean;
  readonly looked: Looked;
  readonly player: Player;
  readonly memory: TakesMemory;
  readonly change: (part: Partial<TakesMemory>) => void;
  readonly onView: (part: Partial<StageView>) => void;
  readonly joints: readonly string[];
  readonly onJoints: (joints: readonly string[]) => void;
  /** The loop that is ringed. */
  readonly loop: Cycle | null;
  readonly onLoop: (loop: Cycle | null) => void;
  readonly onEdit: (edit: TakeEdit) => void;
  readonly onPreview: (edit: TakeEdit | null) => void;
  /** Stand at a frame of the result, with a joint's curves. */
  readonly goTo: (frame: number, joint?: string) => void;
}
