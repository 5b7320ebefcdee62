/** What the voice room looked like when it was left. */

import type { Window } from '../../desk/scale';
import type { Orbit } from '../../stage/camera';

export type VoiceTab = 'mouths' | 'text' | 'face';

export interface VoiceMemory {
  readonly tab: VoiceTab;
  /** Which chart is placed on the face. */
  readonly placed: 'mouth' | 'eyes';
  /** The part of the line that is seen; none is all of it. */
  readonly window: Window | null;
  /** From where the face is looked at. */
  readonly orbit: Orbit;
}

export const FIRST_VOICE: VoiceMemory = {
  tab: 'mouths',
  placed: 'mouth',
  window: { start: 0, frames: 96 },
  orbit: { yaw: 0, pitch: -1, distance: 1.2 },
};

export const voiceKey = (line: string) => `hours/voice/${line}`;
