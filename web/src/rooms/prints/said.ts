/** Prints in words and figures. */

import type { PrintCard } from '../../api/prints';

const VIEWS: Readonly<Record<NonNullable<PrintCard['look']['view']>, string>> = {
  stage: 'as on the stage',
  camera: 'through the camera',
  'three-quarter': 'three-quarter',
  side: 'side',
  front: 'front',
  plan: 'plan',
};

export const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;

/** How many pictures its film has: those of a round, round and round. */
export const picturesIn = ({ pictures, rounds }: Pick<PrintCard, 'pictures' | 'rounds'>): number =>
  pictures * rounds;

/** What plays with sound, picture by picture. */
export const isFilm = ({ form }: Pick<PrintCard, 'form'>): boolean =>
  form === 'mp4' || form === 'webm';
/** What goes round by itself. */
export const moves = ({ form }: Pick<PrintCard, 'form'>): boolean =>
  form === 'webp' || form === 'gif';

const NAMES: Readonly<Record<PrintCard['form'], string>> = {
  mp4: 'MP4',
  webm: 'WebM',
  webp: 'WebP',
  gif: 'GIF',
  png: 'numbered PNG',
  contact: 'contact sheet',
  pdf: 'contact sheets, PDF',
};

/** How long it is, where it has a length. */
export const lengthSaid = (print: PrintCard): string | null =>
  isFilm(print) || moves(print) ? `${seconds(print).toFixed(2)} s` : null;

/** Which revision, and what stands beside it. */
export const revisionSaid = ({ revision, beside, captured }: PrintCard): string => {
  if (captured) return `rev ${revision}, beside what was captured`;
  return beside === null ? `rev ${revision}` : `rev ${revision}, beside rev ${beside}`;
};

export const seconds = (print: PrintCard): number => picturesIn(print) / print.frames_per_second;

/** The number of the frame that a picture of the film shows. */
export function frameShown(print: PrintCard, picture: number): number {
  const { frames, pictures, first, first_frame: firstFrame } = print;
  const pace = print.shown_frames_per_second / print.frames_per_second;
  const frame = Math.floor((picture % pictures) * pace + 1e-6);
  return Math.min(frames - 1, frame) + first + firstFrame;
}

/** What its pictures are called, the first and the last. */
export const framesSaid = ({ form, first, first_frame, frames, rounds }: PrintCard): string => {
  if (form === 'contact' || form === 'pdf') return `${frames} from ${first + first_frame} on`;
  const range = `${first + first_frame} to ${first + first_frame + frames - 1}`;
  return rounds > 1 ? `${range}, ${rounds} rounds` : range;
};

export const lookSaid = ({ look, form }: Pick<PrintCard, 'look' | 'form'>): string =>
  `${VIEWS[look.view ?? 'stage']}, ${look.width} × ${look.height}, ${NAMES[form]}`;

export const madeSaid = ({ author, created }: PrintCard): string => {
  const when = new Date(created).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });
  return author ? `${author}, ${when}` : when;
};

/** The picture that begins at a moment of a film, from 0 on: films count in milliseconds, some of them. */
export const pictureAt = (moment: number, fps: number, frames: number): number =>
  Math.max(0, Math.min(frames - 1, Math.round(moment * fps)));

/** The middle of a picture: whatever its player rounds, that one shows. */
export const momentOf = (picture: number, fps: number): number => (picture + 0.5) / fps;
