/** What every card beside the bench gets. */

import type { Chosen, Clip, ClipEdit } from '../../../api/clips';
import type { Player } from '../../../player/player';
import type { FrameWindow } from '../curvePicture';

export interface CardProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joints: readonly string[];
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onJoints: (joints: readonly string[]) => void;
  readonly onKeys: (keys: Chosen) => void;
  /** The chosen beat. */
  readonly beat: string | null;
  readonly onBeat: (beat: string | null) => void;
  /** Moved keys land on whole frames. */
  readonly snap: boolean;
  readonly onSnap: (snap: boolean) => void;
  /** Show curves round these frames. */
  readonly onFrame: (window: FrameWindow) => void;
}
