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
const SCENE = {
  room: 'scenes',
  length: 288,
  framesPerSecond: 24,
  isCycle: false,
  hasCamera: false,
} as const;
const STANDS = { view: VIEW, range: { start: 12, end: 36 }, subject: SCENE, beside: null };
const SEEN = { ...STANDS, subject: { ...SCENE, hasCamera: true } };

const ARCS = [
  { figure: 'captured', joint: 4 },
  { figure: 'cleaned', joint: 4 },
];

describe('what is printed', () => {
  it('is the stage as it is seen, all of it, with nothing but the picture', () => {
    const { look, ...wish } = printWish(HOUSE_TEST, STANDS);
    expect(wish).toEqual({
      form: 'mp4',
      start: 0,
      end: 288,
      rounds: 1,
      every: 4,
      rate: null,
      beside: null,
      captured: false,
      in_place: false,
    });
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
    expect(printWish(through, SEEN).look?.view).toBe('camera');
    const looked = { ...SEEN, view: { ...VIEW, through: true } };
    expect(printWish(HOUSE_TEST, looked).look?.view).toBe('camera');
  });

  it('has a cycle walk on for its rounds, and go round once where it goes round for ever', () => {
    const subject = { ...SCENE, room: 'clips', length: 24, isCycle: true } as const;
    const stands = { ...STANDS, subject };
    const film = printWish({ ...HOUSE_TEST, rounds: 3 }, stands);
    expect([film.start, film.end, film.rounds]).toEqual([0, 72, 1]);
    const inPlace = printWish(HOUSE_TEST, { ...stands, subject: { ...subject, isInPlace: true } });
    expect([film.in_place, inPlace.in_place]).toEqual([false, true]);
    const moving = printWish({ ...HOUSE_TEST, form: 'gif', rounds: 3 }, stands);
    expect([moving.start, moving.end, moving.rounds]).toEqual([0, 24, 1]);
    const timed = printWish({ ...HOUSE_TEST, lasts: 'seconds', seconds: 2.5, rate: 12 }, stands);
    expect([timed.start, timed.end, timed.rounds, timed.rate]).toEqual([0, 60, 1, '12']);
    const loop = printWish({ ...HOUSE_TEST, part: 'loop', rounds: 3 }, stands);
    expect([loop.start, loop.end, loop.rounds]).toEqual([12, 36, 3]);
  });

  it('knows the figure of a clip by the name that it has alone', () => {
    const subject = { ...SCENE, room: 'takes', length: null } as const;
    const view = { ...VIEW, watched: 'cleaned', arcs: { shown: true, joints: ARCS } };
    const options = { ...HOUSE_TEST, arcs: true };
    const wish = printWish(options, { view, range: null, subject, beside: 'captured' });
    expect(wish).toMatchObject({ end: null, captured: true, beside: null });
    expect(wish.look).toMatchObject({ watched: 'figure', arcs: [{ figure: 'figure', joint: 4 }] });
  });

  it('chooses frames, sizes and paper by what it is printed as', () => {
    const sheet = { ...HOUSE_TEST, form: 'contact', keys: true, clear: true } as const;
    const wish = printWish(sheet, { ...STANDS, beside: 3 });
    expect(wish).toMatchObject({ form: 'contact', every: null, beside: 3 });
    expect(wish.look).toMatchObject({ width: 320, height: 180, transparent: true });
    const film = printWish({ ...sheet, form: 'mp4' }, STANDS);
    expect(film.look).toMatchObject({ width: 1280, height: 720, transparent: false });
  });

  it('knows a preset by what it is, whatever part is printed', () => {
    expect(presetOf({ ...PRESETS.Clean, part: 'loop', form: 'gif', clear: true })).toBe('Clean');
    expect(presetOf({ ...HOUSE_TEST, size: '640x360' })).toBeNull();
  });
});
