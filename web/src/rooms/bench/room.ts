/** What the parts of the bench share: the clip, what is chosen of it, and the hands that change it. */

import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import type { Player } from '../../player/player';
import type { StageView } from '../../stage/scene';
import type { BenchMemory } from './benchMemory';
import type { FrameWindow } from './curvePicture';
import type { PoseState } from './usePose';

export interface BenchRoomParts {
  readonly clip: Clip;
  readonly player: Player;
  readonly memory: BenchMemory;
  readonly change: (part: Partial<BenchMemory>) => void;
  readonly onView: (part: Partial<StageView>) => void;
  readonly pose: PoseState;
  readonly joints: readonly string[];
  readonly onJoints: (joints: readonly string[]) => void;
  readonly keys: Chosen;
  readonly onKeys: (keys: Chosen) => void;
  readonly beat: string | null;
  readonly onBeat: (beat: string | null) => void;
  readonly record: boolean;
  readonly onRecord: (on: boolean) => void;
  /** The frames that the curves show, where they are not the whole. */
  readonly framed: FrameWindow | null;
  readonly onFramed: (framed: FrameWindow | null) => void;
  /** An edit is on its way. */
  readonly isSaving: boolean;
  /** What a drag shows. */
  readonly previewEdit: ClipEdit | null;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
}
