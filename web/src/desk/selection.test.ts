import { expect, test } from 'vitest';
import type { Schemas } from '../api/client';
import { scaleOf, showing, windowOf } from './scale';
import { cutsOf, fromPlayhead, nextOf, stillThere, toggled, under } from './selection';
import { catches, snapped } from './snapping';

type Desk = Schemas['Desk'];

const stint = (id: string, start: number, end: number) => ({ id, start, end, plants: [] });
const desk = {
  laid_frames: 100,
  played_frames: 100,
  figures: [{ id: 'odo' }],
  beats: [{ id: 'waits', start: 0, end: 30 }],
  guides: [{ id: 'ferry', keys: [{ frame: 12 }] }],
  sound_lanes: [
    { id: 'voice', keeps_own_time: true, sounds: [{ id: 'line', start: 12, end: 60.5 }] },
  ],
  lanes: [
    {
      id: 'body',
      figure: 'odo',
      stints: [stint('a', 0, 40), stint('b', 30, 70), stint('c', 80, 100)],
      joins: [{ incoming: 'b', outgoing: 'a' }],
      cuts: [],
    },
  ],
} as unknown as Desk;

test('Shift adds a stint and takes it away again', () => {
  const both = toggled({ kind: 'stints', ids: ['a'] }, 'b');
  expect(both).toEqual({ kind: 'stints', ids: ['a', 'b'] });
  expect(toggled(both, 'a')).toEqual({ kind: 'stints', ids: ['b'] });
  expect(toggled({ kind: 'stints', ids: ['b'] }, 'b')).toBeNull();
});

test('from the playhead on, and under a range', () => {
  expect(fromPlayhead(desk, 30)).toEqual({ kind: 'stints', ids: ['b', 'c'] });
  expect(under(desk, 40, 80)).toEqual({ kind: 'stints', ids: ['b'] });
  expect(under(desk, 70, 80)).toBeNull();
});

test('what is no longer there is no longer chosen', () => {
  expect(stillThere(desk, { kind: 'stints', ids: ['a', 'gone'] })).toEqual({
    kind: 'stints',
    ids: ['a'],
  });
  expect(stillThere(desk, { kind: 'join', incoming: 'c' })).toEqual({ kind: 'stints', ids: ['c'] });
  expect(stillThere(desk, { kind: 'beat', id: 'gone' })).toBeNull();
  const sound = { kind: 'sound', id: 'line' } as const;
  expect(stillThere(desk, sound)).toBe(sound);
  expect(stillThere(desk, { kind: 'soundLane', id: 'gone' })).toBeNull();
  const guide = { kind: 'guide', id: 'ferry' } as const;
  expect(stillThere(desk, { ...guide, key: 12 })).toEqual({ ...guide, key: 12 });
  expect(stillThere(desk, { ...guide, key: 13 })).toEqual({ ...guide, key: null });
  expect(stillThere(desk, { ...guide, id: 'gone', key: null })).toBeNull();
  expect(stillThere(desk, { kind: 'lane', id: 'body' })).toEqual({ kind: 'lane', id: 'body' });
});

test('jumping goes to the next cut and stops at the last', () => {
  expect(cutsOf(desk)).toEqual([0, 30, 40, 70, 80, 99]);
  expect(nextOf(cutsOf(desk), 35, 1)).toBe(40);
  expect(nextOf(cutsOf(desk), 40, -1)).toBe(30);
  expect(nextOf(cutsOf(desk), 99, 1)).toBeNull();
});

test('a drawn stint catches on cuts, beats and the playhead, and not on itself', () => {
  const points = catches(desk, 55, new Set(['c']));
  // At four pixels a frame, seven pixels reach less than two frames.
  expect(snapped(-8.6, [80, 100], points, 4)).toBe(-10);
  expect(snapped(-23.9, [80, 100], points, 4)).toBe(-25);
  expect(snapped(-5, [80, 100], points, 4)).toBe(-5);
  expect(snapped(0.9, [80, 100], points, 4)).toBe(0);
  expect(points).not.toContain(80);
});

test('the window of time is kept whatever the width', () => {
  const near = scaleOf({ start: 20, frames: 30 }, 100, 1200);
  expect(windowOf(near, 100)?.start).toBeCloseTo(20, 9);
  expect(windowOf(near, 100)?.frames).toBeCloseTo(30, 9);
  const narrow = scaleOf({ start: 20, frames: 30 }, 100, 700);
  expect(windowOf(narrow, 100)?.frames).toBeCloseTo(30, 9);
  expect(windowOf(scaleOf(null, 100, 1200), 100)).toBeNull();
  expect(showing(near, 100, 45)).toBe(near);
  const moved = showing(near, 100, 90);
  expect(moved.start).toBeGreaterThan(60);
  expect(moved.start + 30).toBeGreaterThan(90);
});
