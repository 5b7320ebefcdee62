import { describe, expect, it } from 'vitest';
import type { StageView } from '../../../stage/scene';
import { HOUSE_TEST, PRESETS, presetOf, printWish } from './printWish';

const VIEW: StageView = {
  orbit: { yaw: -30, pitch: 12, distance: 5 },
  ghosts: { shown: true, count: 3, step: 4, inLoop: false },
  follow: false,
  target: [1, 0.86, 2],
  watched: 'gull',
  arcs: { shown: true, joints: [{ figure: 'odo', joint: 4 }] },
  prints: true,
  planInset: true,
  counts: false,
};
const STANDS = { view: VIEW, range: { start: 12, end: 36 }, length: 288, hasCamera: false };

describe('what is printed', () => {
  it('is the stage as it is seen, all of it, with nothing but the picture', () => {
    const { look, ...wish } = printWish(HOUSE_TEST, STANDS);
    expect(wish).toEqual({ form: 'mp4', start: 0, end: 288, rounds: 1 });
    expect(look).toMatchObject({
      width: 1280,
      height: 720,
      view: 'stage',
      yaw_degrees: -30,
      pitch_degrees: 12,
      distance_metres: 5,
      target: [1, 0.86, 2],
      follow: false,
      watched: 'gull',
      ghosts: null,
      arcs: [],
      prints: false,
    });
  });

  it('is the range that loops, with ghosts and arcs as they are set', () => {
    const wish = printWish({ ...PRESETS['With the desk'], part: 'loop' }, STANDS);
    expect([wish.start, wish.end, wish.rounds]).toEqual([12, 36, 4]);
    expect(wish.look).toMatchObject({
      ghosts: { count: 3, step: 4 },
      arcs: [{ figure: 'odo', joint: 4 }],
      numbers: true,
    });
    expect(printWish({ ...HOUSE_TEST, part: 'loop' }, { ...STANDS, range: null }).end).toBe(288);
  });

  it('looks through the camera only where there is one', () => {
    const through = { ...HOUSE_TEST, view: 'camera' } as const;
    expect(printWish(through, STANDS).look?.view).toBe('stage');
    expect(printWish(through, { ...STANDS, hasCamera: true }).look?.view).toBe('camera');
    const looked = { ...STANDS, hasCamera: true, view: { ...VIEW, through: true } };
    expect(printWish(HOUSE_TEST, looked).look?.view).toBe('camera');
  });

  it('knows a preset by what it is, whatever part is printed', () => {
    expect(presetOf({ ...PRESETS.Clean, part: 'loop' })).toBe('Clean');
    expect(presetOf({ ...HOUSE_TEST, size: '640x360' })).toBeNull();
  });
});
