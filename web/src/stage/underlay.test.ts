import { expect, test } from 'vitest';
import { orbitCamera, VIEWS } from './camera';
import { frameOf, isUnder } from './underlay';

const LAID = {
  image: null as unknown as CanvasImageSource,
  opacity: 0.5,
  shape: 0.5,
  heightMetres: 1.8,
  rightMetres: 0,
  upMetres: 0,
  yaw: -90,
  pitch: 3,
};

test('a tracing shows from the view that it was laid under, and from no other', () => {
  expect(isUnder(VIEWS.Side, LAID)).toBe(true);
  expect(isUnder({ ...VIEWS.Side, yaw: 270 }, LAID)).toBe(true);
  expect(isUnder({ ...VIEWS.Side, yaw: -91 }, LAID)).toBe(false);
  expect(isUnder(VIEWS.Front, LAID)).toBe(false);
  expect(isUnder(VIEWS.Plan, LAID)).toBe(false);
});

test('it stands on the ground, as high as it is said to be, and nearer is larger', () => {
  const far = orbitCamera(VIEWS.Side, [0, 0.9, 0], 800, 600);
  const [left, top, width, height] = frameOf(far, LAID);
  expect(width / height).toBeCloseTo(0.5, 9);
  expect(left + width / 2).toBeCloseTo(400, 6);
  const pixels = height / 1.8;
  const [, raised] = frameOf(far, { ...LAID, upMetres: 0.5 });
  expect((top - raised) / pixels).toBeCloseTo(0.5, 1);
  const near = orbitCamera({ ...VIEWS.Side, distance: 3.5 }, [0, 0.9, 0], 800, 600);
  expect(frameOf(near, LAID)[3] / height).toBeCloseTo(2, 1);
});
