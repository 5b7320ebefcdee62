/** How one prints: what is remembered from one print to the next, and what is asked for with it. */

import type { PrintCard, PrintWanted } from '../../../api/prints';
import type { Player, Range } from '../../../player/player';
import type { StageView } from '../../../stage/scene';

export type PrintForm = PrintCard['form'];
export type PrintView = 'stage' | 'camera' | 'three-quarter' | 'side' | 'front' | 'plan';
export type Burnt = 'frame' | 'time' | 'timecode' | 'name' | 'revision' | 'beat' | 'lanes';

export interface PrintOptions {
  readonly form: PrintForm;
  readonly size: string;
  readonly view: PrintView;
  readonly part: 'whole' | 'loop';
  /** How often a loop is seen. */
  readonly rounds: number;
  readonly ghosts: boolean;
  readonly arcs: boolean;
  readonly footPrints: boolean;
  readonly grid: boolean;
  readonly burns: readonly Burnt[];
  /** Without the paper. */
  readonly clear: boolean;
  /** Of one frame on a contact sheet. */
  readonly cell: string;
  /** Every so many frames of it, or those with keys. */
  readonly every: number;
  readonly keys: boolean;
  /** Pictures a second; none for as many as it has frames. */
  readonly rate: number | null;
  /** How long a cycle goes on: so many rounds, or seconds. */
  readonly lasts: 'rounds' | 'seconds';
  readonly seconds: number;
}

/** A film has sound and rounds; a picture that moves goes round by itself; a sheet has chosen frames. */
export const isFilm = (form: PrintForm): boolean => form === 'mp4' || form === 'webm';
export const isMoving = (form: PrintForm): boolean => form === 'webp' || form === 'gif';
export const isContact = (form: PrintForm): boolean => form === 'contact' || form === 'pdf';
/** Forms that can show a picture without its paper. */
export const mayBeClear = (form: PrintForm): boolean =>
  form === 'png' || form === 'webp' || form === 'contact';

/** What is printed, of which room. */
export interface PrintSubject {
  readonly room: 'scenes' | 'clips' | 'takes';
  readonly id: string;
  readonly name: string;
  readonly production: string;
  readonly revision: number;
  /** Its played frames; none where only its recipe knows. */
  readonly length: number | null;
  readonly framesPerSecond: number;
  readonly isCycle: boolean;
  readonly hasCamera: boolean;
  readonly hasSound: boolean;
  readonly firstFrame: number;
  readonly mayPrint: boolean;
  /** It is looked at as it walks in place. */
  readonly isInPlace?: boolean;
}

interface Standing {
  readonly id: string;
  readonly name: string;
  readonly production: string;
  readonly revision: number;
  readonly may_change: boolean;
}

/** What every document tells of itself as something to be printed. */
export const ofDocument = <Room extends PrintSubject['room']>(
  room: Room,
  { id, name, production, revision, may_change: mayPrint }: Standing,
) => ({ room, id, name, production, revision, mayPrint });

/** What stands at the left of it: another revision, or what a take was. */
export type Beside = number | 'captured' | null;

/** As the house looks at it: nothing in the picture but the picture, and all that tells which it is. */
export const HOUSE_TEST: PrintOptions = {
  form: 'mp4',
  size: '1280x720',
  view: 'stage',
  part: 'whole',
  rounds: 4,
  ghosts: false,
  arcs: false,
  footPrints: false,
  grid: false,
  burns: ['frame', 'time', 'name', 'revision'],
  clear: false,
  cell: '320x180',
  every: 4,
  keys: false,
  rate: null,
  lasts: 'rounds',
  seconds: 4,
};

/** To be shown: large, and nothing burnt in. */
const CLEAN: PrintOptions = { ...HOUSE_TEST, size: '1920x1080', burns: [] };

/** To be worked by: with all that one sees on the stage. */
const DESK: PrintOptions = {
  ...HOUSE_TEST,
  ghosts: true,
  arcs: true,
  footPrints: true,
  grid: true,
  burns: ['frame', 'beat', 'lanes', 'revision'],
};

export const PRESETS = { 'House test': HOUSE_TEST, Clean: CLEAN, 'With the desk': DESK } as const;
export type PresetName = keyof typeof PRESETS;

export const SIZES = ['640x360', '1280x720', '1920x1080', '1080x1080'] as const;
export const RATES = [12, 15, 24, 25, 30, 50, 60] as const;
export const CELLS = ['160x90', '320x180', '640x360'] as const;

/** What a preset says nothing of: what of it is printed, and as what. */
export function kept(options: PrintOptions): Partial<PrintOptions> {
  const { form, part, rounds, lasts, seconds, rate, clear, cell, every, keys } = options;
  return { form, part, rounds, lasts, seconds, rate, clear, cell, every, keys };
}

/** The preset that these options are, whatever part they print. */
export const presetOf = (options: PrintOptions): PresetName | null => {
  const same = (preset: PrintOptions) =>
    JSON.stringify({ ...preset, ...kept(options) }) ===
    JSON.stringify({ ...HOUSE_TEST, ...options });
  return (Object.keys(PRESETS) as PresetName[]).find((name) => same(PRESETS[name])) ?? null;
};

/** A view that is not there is that of the stage. */
export const viewIn = ({ view }: PrintOptions, hasCamera: boolean): PrintView =>
  view === 'camera' && !hasCamera ? 'stage' : view;

interface Stands {
  readonly view: StageView;
  readonly range: Range | null;
  readonly subject: Pick<
    PrintSubject,
    'room' | 'length' | 'framesPerSecond' | 'isCycle' | 'hasCamera' | 'isInPlace'
  >;
  readonly beside: Beside;
}

/** What it is called where it stands alone (core/elastic_core/scene/of_clip.py). */
const ALONE = 'figure';

/** The frames that are printed. A cycle walks on for its rounds; a loop of anything else is shown again. */
function partOf(options: PrintOptions, { range, subject }: Stands) {
  const { length, isCycle, framesPerSecond } = subject;
  const rounds = isFilm(options.form) ? options.rounds : 1;
  if (options.part === 'loop' && range) return { start: range.start, end: range.end, rounds };
  if (isCycle && length !== null) {
    const isTimed = isFilm(options.form) && options.lasts === 'seconds';
    const frames = isTimed ? Math.round(options.seconds * framesPerSecond) : length * rounds;
    return { start: 0, end: Math.max(1, frames), rounds: 1 };
  }
  return { start: 0, end: length, rounds: 1 };
}

/** What is asked for: the options, with the stage as it is seen now. */
export function printWish(options: PrintOptions, stands: Stands): Omit<PrintWanted, 'token'> {
  const { view, subject, beside } = stands;
  const { hasCamera } = subject;
  const { form } = options;
  const [width, height] = (isContact(form) ? options.cell : options.size).split('x').map(Number);
  const seen = viewIn(options, hasCamera);
  const isAlone = subject.room !== 'scenes';
  const arcs = view.arcs.joints
    .filter(({ figure }) => !isAlone || figure === view.watched)
    .map(({ figure, joint }) => ({ figure: isAlone ? ALONE : figure, joint }));
  return {
    form,
    ...partOf(options, stands),
    every: options.keys ? null : options.every,
    rate: options.rate !== null && (isFilm(form) || isMoving(form)) ? String(options.rate) : null,
    beside: typeof beside === 'number' ? beside : null,
    captured: beside === 'captured',
    in_place: subject.isInPlace ?? false,
    look: {
      width,
      height,
      view: seen === 'stage' && view.through && hasCamera ? 'camera' : seen,
      yaw_degrees: view.orbit.yaw,
      pitch_degrees: Math.max(-90, Math.min(90, view.orbit.pitch)),
      distance_metres: view.orbit.distance,
      target: [...view.target],
      follow: view.follow,
      watched: isAlone ? ALONE : view.watched,
      ghosts: options.ghosts ? { count: view.ghosts.count, step: view.ghosts.step } : null,
      arcs: options.arcs ? arcs : [],
      prints: options.footPrints,
      grid: options.grid,
      numbers: options.ghosts,
      burns: [...options.burns],
      mark: false,
      transparent: options.clear && mayBeClear(form),
    },
  };
}

/** The frames that loop, as they are shown; none where all of it does. */
export function loopSaid(
  { snapshot }: Pick<Player, 'snapshot'>,
  firstFrame: number,
): string | null {
  const { range } = snapshot();
  return range && `${range.start + firstFrame} to ${range.end - 1 + firstFrame}`;
}
