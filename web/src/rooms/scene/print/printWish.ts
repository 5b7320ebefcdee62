/** How one prints: what is remembered from one print to the next, and what is asked for with it. */

import type { PrintWanted } from '../../../api/prints';
import type { Player, Range } from '../../../player/player';
import type { StageView } from '../../../stage/scene';

export type PrintForm = 'mp4' | 'webm';
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
}

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

const ANY = { part: '', rounds: 0 };

/** The preset that these options are, whatever part they print. */
export const presetOf = (options: PrintOptions): PresetName | null => {
  const same = (preset: PrintOptions) =>
    JSON.stringify({ ...preset, ...ANY }) === JSON.stringify({ ...options, ...ANY });
  return (Object.keys(PRESETS) as PresetName[]).find((name) => same(PRESETS[name])) ?? null;
};

/** A view that is not there is that of the stage. */
export const viewIn = ({ view }: PrintOptions, hasCamera: boolean): PrintView =>
  view === 'camera' && !hasCamera ? 'stage' : view;

interface Stands {
  readonly view: StageView;
  readonly range: Range | null;
  readonly length: number;
  readonly hasCamera: boolean;
}

/** What is asked for: the options, with the stage as it is seen now. */
export function printWish(options: PrintOptions, stands: Stands): Omit<PrintWanted, 'token'> {
  const { view, range, length, hasCamera } = stands;
  const [width, height] = options.size.split('x').map(Number);
  const seen = viewIn(options, hasCamera);
  const isLoop = options.part === 'loop' && range !== null;
  const part = isLoop ? range : { start: 0, end: length };
  return {
    form: options.form,
    start: part.start,
    end: part.end,
    rounds: isLoop ? options.rounds : 1,
    look: {
      width,
      height,
      view: seen === 'stage' && view.through && hasCamera ? 'camera' : seen,
      yaw_degrees: view.orbit.yaw,
      pitch_degrees: Math.max(-90, Math.min(90, view.orbit.pitch)),
      distance_metres: view.orbit.distance,
      target: [...view.target],
      follow: view.follow,
      watched: view.watched,
      ghosts: options.ghosts ? { count: view.ghosts.count, step: view.ghosts.step } : null,
      arcs: options.arcs ? view.arcs.joints.map(({ figure, joint }) => ({ figure, joint })) : [],
      prints: options.footPrints,
      grid: options.grid,
      numbers: options.ghosts,
      burns: [...options.burns],
      mark: false,
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
