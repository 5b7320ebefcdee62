import { describe, expect, it } from 'vitest';
import { orbitCamera, project } from './camera';
import type { Costume } from './costume';
import { type Pose, placed, turned } from './layout';
import { cardOn, chartSeen, type MouthChart, type SeenChart } from './mouth';
import { dot, sub, unit, type Vec3 } from './vector';

const COSTUME = {
  figure: { joints: [{ name: 'hips' }, { name: 'head' }] },
} as unknown as Costume;

const chart = (view: MouthChart['view'], heading: number): MouthChart =>
  ({
    name: view,
    mouths: [],
    view,
    place: {
      joint: 'head',
      offset: [0.03, -0.01, 0.11],
      width_metres: 0.12,
      heading_degrees: heading,
      tilt_degrees: 12,
    },
  }) as unknown as MouthChart;

/** A head somewhere, turned about an axis. */
function headAt(place: Vec3, axis: Vec3, radians: number): Pose {
  const [x, y, z] = unit(axis).map((one) => one * Math.sin(radians / 2));
  return {
    positions: new Float32Array([0, 0.9, 0, ...place]),
    rotations: new Float32Array([1, 0, 0, 0, Math.cos(radians / 2), x, y, z]),
  };
}

/** A point of the world in the head’s own frame. */
function inHead(pose: Pose, point: Vec3): Vec3 {
  const away = sub(point, placed(pose, 1, [0, 0, 0]));
  const axes: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ];
  return axes.map((axis) => dot(away, turned(pose, 1, axis))) as unknown as Vec3;
}

describe('a mouth on a face', () => {
  it('stays where it stands on the head to 1e-6 m, however head and camera go', () => {
    const front = chart('front', 20);
    const still = cardOn(COSTUME, headAt([0, 0, 0], [0, 1, 0], 0), front, false);
    for (let frame = 0; frame < 48; frame++) {
      // The head on twos: turning, nodding, going along; the camera on ones.
      const at = 2 * Math.floor(frame / 2);
      const pose = headAt([at / 40, 1.5, -at / 90], [0.2, 1, 0.1 * at], at / 9 - 2);
      const card = cardOn(COSTUME, pose, front, false);
      for (const [x, y] of [
        [0, 0],
        [-1, 0.2],
        [0.7, -0.9],
      ]) {
        const wanted = still?.at(x, y) ?? [9, 9, 9];
        const found = inHead(pose, card?.at(x, y) ?? [0, 0, 0]);
        expect(Math.hypot(...sub(found, wanted))).toBeLessThan(1e-6);
      }
      const camera = orbitCamera({ yaw: 4 * frame, pitch: 5, distance: 3 }, [0, 1.5, 0], 640, 480);
      const seen = project(camera, card?.at(0, 0) ?? [0, 0, 0]);
      expect(seen.x).toBeCloseTo(project(camera, placed(pose, 1, [0.03, -0.01, 0.11])).x, 3);
    }
  });

  it('is mirrored seen from the other side: the same card on the other cheek', () => {
    const pose = headAt([0, 1.5, 0], [0, 1, 0], 0);
    const left = cardOn(COSTUME, pose, chart('three-quarter', 42), false);
    const right = cardOn(COSTUME, pose, chart('three-quarter', 42), true);
    const [x, y, z] = left?.at(0.6, -0.3) ?? [0, 0, 0];
    const other = right?.at(0.6, -0.3) ?? [9, 9, 9];
    expect([-other[0], other[1], other[2]].map((one) => one.toFixed(6))).toEqual(
      [x, y, z].map((one) => one.toFixed(6)),
    );
    expect(right?.faces[0]).toBeCloseTo(-(left?.faces[0] ?? 0), 6);
  });

  it('picks the chart that reaches just far enough round the face', () => {
    const charts: SeenChart[] = [
      { chart: chart('front', 0), reachDegrees: 28 },
      { chart: chart('three-quarter', 42), reachDegrees: 68 },
    ];
    const pose = headAt([0, 1.5, 0], [0, 1, 0], 0);
    const seen = (yaw: number) => {
      const camera = orbitCamera({ yaw, pitch: 0, distance: 4 }, [0, 1.5, 0], 640, 480);
      const found = chartSeen(COSTUME, pose, camera, charts);
      return `${found?.chart.view}${found?.isMirrored ? ', mirrored' : ''}`;
    };
    expect([0, 27, -27, 30, 60, -40, 120].map(seen)).toEqual([
      'front',
      'front',
      'front',
      'three-quarter',
      'three-quarter',
      'three-quarter, mirrored',
      'three-quarter',
    ]);
    // It goes by the head, not by the stage.
    const turnedHead = headAt([0, 1.5, 0], [0, 1, 0], Math.PI / 4);
    const camera = orbitCamera({ yaw: 45, pitch: 0, distance: 4 }, [0, 1.5, 0], 640, 480);
    expect(chartSeen(COSTUME, turnedHead, camera, charts)?.chart.view).toBe('front');
  });
});
