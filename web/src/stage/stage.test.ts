import { expect, test } from 'vitest';
import { jointsUnder, jointUnder, meant } from './arcs';
import { orbitCamera, project, VIEWS } from './camera';
import { groundUnder } from './ground';
import { drawnMark, markUnder } from './marks';
import type { StageScene } from './scene';
import { neighbours } from './stagePainter';

const plan = orbitCamera(VIEWS.Plan, [0, 0.86, 0], 800, 500);

const scene = {
  figures: [
    { id: 'odo', mark: [0, 0, 0] },
    { id: 'gull', mark: [1, 0.5, Math.PI / 2] },
  ],
  pose: (figure: string) =>
    figure === 'odo' ? { positions: new Float32Array([0, 1, 0, 0.4, 1, 0]) } : null,
} as unknown as StageScene;

test('a point of the ground and its place on the canvas are each other’s inverse', () => {
  const camera = orbitCamera(VIEWS['Three-quarter'], [0.3, 0.86, 2], 800, 500);
  const { x, y } = project(camera, [1.2, 0, 2.5]);
  const ground = groundUnder(camera, x, y);
  expect(ground?.[0]).toBeCloseTo(1.2, 9);
  expect(ground?.[2]).toBeCloseTo(2.5, 9);
  expect(groundUnder(camera, 400, -4000)).toBeNull();
});

test('a mark is taken by its cross or by the tip of its arrow', () => {
  const cross = project(plan, [1, 0, 0.5]);
  expect(markUnder(plan, scene, cross.x, cross.y)).toEqual({ figure: 'gull', grip: 'place' });
  // It looks along +x.
  const tip = project(plan, [1.62, 0, 0.5]);
  expect(markUnder(plan, scene, tip.x, tip.y)).toEqual({ figure: 'gull', grip: 'turn' });
  expect(markUnder(plan, scene, 5, 5)).toBeNull();
});

test('a mark is set down on a centimetre, or turned towards a place', () => {
  expect(drawnMark([0, 0, 0.7], 'place', [1.2349, 0, -0.501])).toEqual([1.23, -0.5, 0.7]);
  const [x, z, heading] = drawnMark([1, 1, 0], 'turn', [2, 0, 1]);
  expect([x, z]).toEqual([1, 1]);
  expect(heading).toBeCloseTo(Math.PI / 2, 9);
});

test('the nearest joint within reach is the one that is pressed', () => {
  const hand = project(plan, [0.4, 1, 0]);
  expect(jointUnder(plan, scene, 0, hand.x + 3, hand.y)).toEqual({ figure: 'odo', joint: 1 });
  expect(jointUnder(plan, scene, 0, hand.x + 60, hand.y)).toBeNull();
});

test('of joints on one spot the chosen one is meant, and pressing again takes the next', () => {
  const spot = ['near ankle', 'far ankle', 'toe'];
  expect(meant(spot, () => false)).toEqual({ now: 'near ankle', next: 'near ankle' });
  expect(meant(spot, (joint) => joint === 'far ankle')).toEqual({ now: 'far ankle', next: 'toe' });
  expect(meant(spot, (joint) => joint === 'toe')).toEqual({ now: 'toe', next: 'near ankle' });
  expect(meant(['hand'], () => true)).toEqual({ now: 'hand', next: 'hand' });
  expect(meant([], () => true)).toBeNull();
});

test('joints that are nearly as near as the nearest lie on one spot', () => {
  const hand = project(plan, [0.4, 1, 0]);
  expect(jointsUnder(plan, scene, 0, hand.x + 3, hand.y).map(({ joint }) => joint)).toEqual([1]);
  expect(jointsUnder(plan, scene, 0, hand.x + 60, hand.y)).toEqual([]);
});

const GHOSTS = { shown: true, count: 2, step: 5, inLoop: false };
const WHOLE = { start: 0, end: 24 };

test('ghosts of frames stay in the clip, or go round in a cycle', () => {
  const once = neighbours({ length: 24 }, GHOSTS, 3, WHOLE);
  expect(once.map(({ at, side, rank }) => [at, side, rank])).toEqual([
    [13, 1, 2],
    [8, 1, 1],
  ]);
  const round = neighbours({ length: 24, goesRound: true }, GHOSTS, 3, WHOLE);
  expect(round.map(({ at }) => at).sort((a, b) => a - b)).toEqual([8, 13, 17, 22]);
});

test('ghosts of keys are the nearest keys on either side, over the seam too', () => {
  const scene = { length: 24, goesRound: true, keyFrames: [0, 6, 12, 18] };
  const found = neighbours(scene, { ...GHOSTS, ofKeys: true }, 2, WHOLE);
  const on = (side: number) => found.filter((one) => one.side === side).map(({ at }) => at);
  // Farthest first, so that the nearest lies over the others.
  expect(on(-1)).toEqual([18, 0]);
  expect(on(1)).toEqual([12, 6]);
});
