/** Frames of a line are shown from 1, as those of scenes and of sheets. */
export const FIRST_FRAME = 1;
