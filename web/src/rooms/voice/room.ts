/** What the parts of the voice room share. */

import type { Chart, Line, LineEdit, LineSheet } from '../../api/lines';
import type { Player, Range } from '../../player/player';
import type { SoundTrack } from '../../player/sound/soundTrack';
import type { Asked } from './useAsked';
import type { MouthPictures } from './useMouths';
import type { VoiceMemory } from './voiceMemory';

export interface Writing {
  readonly start: number;
  readonly end: number;
  /** What stands there. */
  readonly text: string;
}

export interface VoiceRoomParts {
  /** The line as it is shown: as it stands, as a drag would make it, or as it was. */
  readonly line: Line;
  readonly sheet: LineSheet;
  /** Its chart, where it has one; and those of the same mouths from other sides. */
  readonly chart: Chart | null;
  readonly otherSides: readonly Chart[];
  /** The chart of its figure’s eyes, where there is one, and its pictures. */
  readonly eyesChart: Chart | null;
  readonly eyePictures: MouthPictures;
  readonly pictures: MouthPictures;
  readonly player: Player;
  readonly track: SoundTrack;
  readonly memory: VoiceMemory;
  readonly change: (part: Partial<VoiceMemory>) => void;
  readonly onEdit: (edit: LineEdit) => void;
  readonly onPreview: (edit: LineEdit | null) => void;
  /** Rows of the sheet that are chosen, `[start, end)`; none is the current one. */
  readonly rows: Range | null;
  /** Drawings that were written a moment ago, and are on their way. */
  readonly asked: Asked;
  /** Where words are being written along the wave, in seconds. */
  readonly writing: Writing | null;
  readonly onWriting: (writing: Writing | null) => void;
  readonly onRows: (rows: Range | null) => void;
  /** Expose a mouth: on the current frame, or while it plays on the one that shows. */
  readonly expose: (mouth: string) => void;
  /** Stand at a frame. */
  readonly goTo: (frame: number) => void;
}
