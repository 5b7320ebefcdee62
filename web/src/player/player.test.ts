import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { type Course, PAGE_CLOCK, type PlayClock, Player } from './player';

const FPS = 24;

/** Time goes on in refreshes of a screen. */
let now = 0;
let waiting: FrameRequestCallback[] = [];

beforeEach(() => {
  now = 1000;
  waiting = [];
  vi.spyOn(performance, 'now').mockImplementation(() => now);
  vi.stubGlobal('requestAnimationFrame', (callback: FrameRequestCallback) =>
    waiting.push(callback),
  );
  vi.stubGlobal('cancelAnimationFrame', () => {
    waiting = [];
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

/** So many refreshes, so many milliseconds apart; the frames shown. */
function refresh(player: Player, times: number, milliseconds: number): number[] {
  const shown: number[] = [];
  const off = player.onFrame((frame) => shown.push(frame));
  for (let k = 0; k < times; k++) {
    now += milliseconds;
    const due = waiting;
    waiting = [];
    for (const callback of due) callback(now);
  }
  off();
  return shown;
}

function player(length = 48, ready: (frame: number) => boolean = () => true): Player {
  const made = new Player(ready);
  made.setScene(length, FPS);
  return made;
}

test('real time shows as many frames as time has gone by', () => {
  const play = player();
  play.play();
  const shown = refresh(play, 30, 1000 / 60);
  expect(shown.at(-1)).toBe(12);
  expect(play.paintCount()).toMatchObject({ painted: 12, dropped: 0 });
});

test('a slow screen drops frames in real time and none in every frame', () => {
  const play = player();
  play.play();
  expect(refresh(play, 4, 125)).toEqual([3, 6, 9, 12]);
  expect(play.paintCount().dropped).toBe(8);
  play.pause();
  play.goTo(0);
  play.setMode('every frame');
  play.play();
  expect(refresh(play, 4, 125)).toEqual([1, 2, 3, 4]);
  expect(play.paintCount().dropped).toBe(0);
});

test('one late refresh leaves no frame out: the late one shows, and the next follows sooner', () => {
  const play = player();
  play.play();
  const due = 1000 / 24;
  expect(refresh(play, 3, due)).toEqual([1, 2, 3]);
  expect(refresh(play, 1, 2.2 * due)).toEqual([4]);
  expect(refresh(play, 1, 0.4 * due)).toEqual([5]);
  expect(refresh(play, 1, 2.9 * due)).toEqual([8]);
  expect(play.paintCount()).toMatchObject({ painted: 6, dropped: 2 });
});

test('half speed takes twice as long, double speed half', () => {
  const play = player();
  play.setSpeed(0.5);
  play.play();
  expect(refresh(play, 24, 1000 / 24).at(-1)).toBe(12);
  play.pause();
  play.goTo(0);
  play.shiftSpeed(3);
  expect(play.snapshot().speed).toBe(2);
  play.play();
  expect(refresh(play, 12, 1000 / 24).at(-1)).toBe(24);
});

test('backwards goes back, over the start of the loop to its end', () => {
  const play = player();
  play.setRange({ start: 10, end: 20 });
  play.goTo(12);
  play.play(true);
  expect(refresh(play, 5, 1000 / 24)).toEqual([11, 10, 19, 18, 17]);
  expect(play.snapshot().backwards).toBe(true);
});

test('without the loop it stops at the last frame, and plays again from the first', () => {
  const play = player(10);
  play.setLoop(false);
  play.goTo(7);
  play.play();
  expect(refresh(play, 6, 1000 / 24)).toEqual([8, 9, 9]);
  expect(play.snapshot().playing).toBe(false);
  play.play();
  expect(play.frame).toBe(0);
});

test('play waits for a frame that is not here yet and loses no time count over it', () => {
  let loaded = 5;
  const play = player(48, (frame) => frame < loaded);
  play.play();
  expect(refresh(play, 8, 1000 / 24)).toEqual([1, 2, 3, 4]);
  expect(play.paintCount().waited).toBeGreaterThan(0);
  loaded = 48;
  expect(refresh(play, 3, 1000 / 24)).toEqual([5, 6, 7]);
  expect(play.paintCount().dropped).toBe(0);
});

test('a range stays inside a scene that grows shorter', () => {
  const play = player();
  play.setRange({ start: 30, end: 44 });
  play.setScene(36, FPS);
  expect(play.snapshot().range).toEqual({ start: 30, end: 36 });
  play.setScene(20, FPS);
  expect(play.snapshot().range).toBeNull();
});

/** A loudspeaker whose crystal runs a thousandth fast, 40 ms behind what it is given. */
const FAST_CLOCK: PlayClock = { at: (ms) => 1.001 * (ms - 40), leadMs: 55 };

test('over a minute the picture stays within a frame of the sound that tells the time', () => {
  const play = player(24 * 90);
  let course: Course | null = null;
  play.onCourse((told) => {
    course = told;
  });
  play.setClock(FAST_CLOCK);
  play.play();
  const began = course as unknown as Course;
  expect(began).toMatchObject({ frame: 0, since: FAST_CLOCK.at(1000) + 55, speed: 1 });
  let worst = 0;
  const off = play.onFrame((frame) => {
    const heard = ((FAST_CLOCK.at(now) - began.since) / 1000) * FPS;
    worst = Math.max(worst, Math.abs(heard - 0.5 - frame));
  });
  for (let second = 0; second < 60; second++) refresh(play, 50, 20);
  off();
  // By the page’s own clock it would be 1.4 frames late by now.
  expect(play.frame).toBe(Math.floor((60 - 0.055 + 0.06) * FPS));
  expect(worst).toBeLessThan(1);
  expect(course).toBe(began);
});

test('sound is told where play goes on, and to be silent where it does not', () => {
  const ready = { to: 5 };
  const play = player(48, (frame) => frame <= ready.to);
  const told: (Course | null)[] = [];
  play.onCourse((course) => told.push(course));
  const last = () => told.at(-1);
  play.play();
  expect(last()).toMatchObject({ frame: 0, start: 0, end: 48, loop: true });
  refresh(play, 20, 20);
  // It waits for frame 6.
  expect(last()).toBeNull();
  ready.to = 48;
  refresh(play, 3, 20);
  expect(last()).toMatchObject({ frame: 6, since: now - 20 });
  play.setRange({ start: 4, end: 20 });
  expect(last()).toMatchObject({ start: 4, end: 20 });
  play.goTo(10);
  expect(last()).toMatchObject({ frame: 10, since: now });
  play.setSpeed(0.5);
  expect(last()).toMatchObject({ speed: 0.5 });
  play.setMode('every frame');
  expect(last()).toBeNull();
  play.setMode('real time');
  play.toggle(true);
  expect(last()).toBeNull();
  play.toggle();
  expect(last()).not.toBeNull();
  play.pause();
  expect(last()).toBeNull();
  play.setClock(PAGE_CLOCK);
});
