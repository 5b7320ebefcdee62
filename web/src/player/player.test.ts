import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Player } from './player';

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
