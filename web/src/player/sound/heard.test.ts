import { expect, test } from 'vitest';
import type { Course } from '../player';
import { heardBetween } from './heard';

const COURSE: Course = { frame: 0, since: 1000, start: 0, end: 960, loop: true, speed: 1 };
const heard = (course: Partial<Course>, from: number, to: number) => [
  ...heardBetween({ ...COURSE, ...course }, 24, from, to),
];

test('play is heard piece by piece, each where the one before ends', () => {
  const stretches = heard({ frame: 216 }, 1000, 13_000);
  expect(stretches).toEqual([
    { piece: 0, offset: 9, seconds: 1, at: 1000 },
    { piece: 1, offset: 0, seconds: 10, at: 2000 },
    { piece: 2, offset: 0, seconds: 1, at: 12_000 },
  ]);
});

test('where play goes round the sound goes round with it, to the frame', () => {
  const stretches = heard({ frame: 30, start: 24, end: 36 }, 1000, 2000);
  expect(stretches.map(({ offset, seconds, at }) => [offset, seconds, at])).toEqual([
    [1.25, 0.25, 1000],
    [1, 0.5, 1250],
    [1, expect.closeTo(0.25, 9), 1750],
  ]);
});

test('what plays once is silent after its end', () => {
  const stretches = heard({ frame: 930, end: 960, loop: false }, 1000, 9000);
  expect(stretches).toEqual([{ piece: 3, offset: 8.75, seconds: 1.25, at: 1000 }]);
  expect(heard({ loop: false }, 50_000, 60_000)).toEqual([]);
});

test('half as fast the same sound lasts twice as long', () => {
  const [only] = heard({ speed: 0.5 }, 3000, 5000);
  expect(only).toEqual({ piece: 0, offset: 1, seconds: 1, at: 3000 });
});

test('what is asked for in parts is what is asked for at once, over many rounds', () => {
  const course = { frame: 7, start: 5, end: 22 };
  const parts = Array.from({ length: 40 }, (_, k) => heard(course, 1000 + 97 * k, 1097 + 97 * k));
  const together = parts.flat();
  let at = 1000;
  let played = 7 / 24;
  for (const stretch of together) {
    expect(stretch.at).toBeCloseTo(at, 6);
    expect(stretch.offset).toBeCloseTo(played, 6);
    at += stretch.seconds * 1000;
    played += stretch.seconds;
    if (played > 22 / 24 - 1e-6) played = 5 / 24;
  }
  expect(at).toBeCloseTo(1000 + 97 * 40, 6);
});

test('nothing is heard before play begins', () => {
  expect(heard({}, 0, 900)).toEqual([]);
  expect(heard({}, 0, 1500)[0]).toMatchObject({ offset: 0, at: 1000, seconds: 0.5 });
});
