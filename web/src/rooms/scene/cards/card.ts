/** What every card beside the stage gets. */

import type { Schemas } from '../../../api/client';
import type { Selection } from '../../../desk/selection';
import type { DeskOptions } from '../../../desk/Transport';
import type { LaidHead } from '../../../player/laidHead';
import type { Edit, Scene } from '../useScene';

export interface CardProps {
  readonly scene: Scene;
  /** The desk as it is shown: during a drag, as it would be. */
  readonly desk: Schemas['Desk'];
  readonly head: LaidHead;
  readonly options: DeskOptions;
  readonly onEdit: (edit: Edit) => void;
  readonly onSelect: (selection: Selection | null) => void;
}
