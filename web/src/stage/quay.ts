/** The quay at dusk: sky, sea, the quay's edge, bollards with their chain, and lamp posts. */

import { type Camera, horizon, project } from './camera';
import { GRAPHITE, INK } from './colour';
import { type Costume, type Figure, makeCostume } from './costume';
import { fillShape, traceLine } from './ground';
import type { Pose } from './layout';
import { paintFigure } from './paint';
import type { Vec3 } from './vector';

const SKY_TOP = '#F7EAD2';
const SKY_LOW = '#F3DDB8';
const SEA = '#DDE8E4';
const STONE = '#F5EEE0';
const GLOW = 'rgba(240, 178, 74, 0.5)';

const EDGE_X = 2.1;
const FAR = 20000;
/** Where the quay's paving ends and its coping begins. */
export const PAVING_X = EDGE_X - 0.34;
const POSTS_Z = [-4, 2.5, 9, 15.5];
const POST_X = 1.35;
const POST_HEIGHT = 2.75;
const BOLLARD_SPACING = 3.25;

type Ring = readonly [height: number, radius: number];

function turnedProp(
  name: string,
  parts: readonly { fill: string; rings: readonly Ring[] }[],
): Costume {
  const hulls = parts.map((part, place) => ({
    name: `${name} ${place}`,
    fill: part.fill,
    line: 1,
    hatch: place === 0,
    depth_bias: -0.001 * place,
    sections: part.rings.map(([height, radius]) => [
      { joint: 'base', offset: [0, height, 0], radius: 0.006, radius_x: radius, radius_z: radius },
    ]),
  }));
  const joints = [{ name: 'base', parent: -1, offset: [0, 0, 0] }];
  return makeCostume({ name, joints, dress: { hulls } } as unknown as Figure);
}

const BOLLARD = turnedProp('bollard', [
  {
    fill: '#C9BFAB',
    rings: [
      [0, 0.15],
      [0.3, 0.12],
    ],
  },
  {
    fill: '#D6CCB8',
    rings: [
      [0.3, 0.17],
      [0.37, 0.16],
    ],
  },
]);

const LAMP_POST = turnedProp('post', [
  {
    fill: '#C9BFAB',
    rings: [
      [0, 0.13],
      [0.34, 0.09],
    ],
  },
  {
    fill: '#B9AE98',
    rings: [
      [0.34, 0.05],
      [2.2, 0.035],
    ],
  },
  {
    fill: '#8C8471',
    rings: [
      [2.2, 0.08],
      [2.24, 0.08],
    ],
  },
  {
    fill: '#F3D9A0',
    rings: [
      [2.24, 0.075],
      [2.56, 0.14],
    ],
  },
  {
    fill: '#8C8471',
    rings: [
      [2.56, 0.17],
      [POST_HEIGHT, 0.03],
    ],
  },
]);

const UPRIGHT = new Float32Array([1, 0, 0, 0]);

const standing = (at: Vec3): Pose => ({
  positions: new Float32Array(at),
  rotations: UPRIGHT,
});

/** Everything behind the figures. The ground near `target` is what is drawn. */
export function paintQuay(
  context: CanvasRenderingContext2D,
  camera: Camera,
  target: Vec3,
  width: number,
  height: number,
): void {
  const line = horizon(camera);
  context.fillStyle = STONE;
  context.fillRect(0, 0, width, height);
  if (line !== null && line > 0) paintSky(context, width, Math.min(line, height));
  paintSea(context, camera, target);
  paintEdge(context, camera, target);
  paintProps(context, camera, target);
}

function paintSky(context: CanvasRenderingContext2D, width: number, line: number): void {
  const wash = context.createLinearGradient(0, 0, 0, line);
  wash.addColorStop(0, SKY_TOP);
  wash.addColorStop(1, SKY_LOW);
  context.fillStyle = wash;
  context.fillRect(0, 0, width, line + 1);
}

function paintSea(context: CanvasRenderingContext2D, camera: Camera, target: Vec3): void {
  const z = target[2];
  const corners: Vec3[] = [
    [EDGE_X, 0, z - FAR],
    [EDGE_X, 0, z + FAR],
    [EDGE_X + FAR, 0, z + FAR],
    [EDGE_X + FAR, 0, z - FAR],
  ];
  fillShape(context, camera, corners, SEA);
  const level = horizon(camera);
  if (level !== null) {
    context.fillStyle = '#B8C9C6';
    context.fillRect(0, level - 0.6, camera.centreX * 2, 1.2);
  }
  context.save();
  context.strokeStyle = '#8FB3B8';
  context.lineWidth = 1;
  context.globalAlpha = 0.7;
  context.beginPath();
  for (const [x, along, length] of WAVES) {
    // Waves stay where they are while the camera goes by: the same ones come round every 48 m.
    const at = z + ((((along - z) % 48) + 72) % 48) - 24;
    traceLine(context, camera, [x, 0, at], [x, 0, at + length]);
  }
  context.stroke();
  context.restore();
}

const WAVES = Array.from({ length: 70 }, (_, i) => {
  const chance = (k: number) => ((i * 7919 + k * 104729) % 997) / 997;
  const far = 0.8 + 26 * chance(1) ** 2;
  return [EDGE_X + far, 48 * chance(2), 0.35 + far * 0.06 * (0.5 + chance(3))] as const;
});

function paintEdge(context: CanvasRenderingContext2D, camera: Camera, target: Vec3): void {
  const [from, to] = [target[2] - 40, target[2] + 40];
  context.save();
  context.strokeStyle = INK;
  context.lineWidth = 1.3;
  context.beginPath();
  traceLine(context, camera, [EDGE_X, 0, from], [EDGE_X, 0, to]);
  context.stroke();
  context.strokeStyle = GRAPHITE;
  context.lineWidth = 0.8;
  context.globalAlpha = 0.6;
  context.beginPath();
  traceLine(context, camera, [PAVING_X, 0, from], [PAVING_X, 0, to]);
  for (let z = Math.ceil(from / 0.9) * 0.9; z < to; z += 0.9) {
    traceLine(context, camera, [PAVING_X, 0, z], [EDGE_X, 0, z]);
  }
  context.stroke();
  context.restore();
}

function paintProps(context: CanvasRenderingContext2D, camera: Camera, target: Vec3): void {
  const first = Math.floor((target[2] - 12) / BOLLARD_SPACING);
  const last = Math.ceil((target[2] + 12) / BOLLARD_SPACING);
  const props: { depth: number; paint: () => void }[] = [];
  const add = (at: Vec3, paint: () => void) => {
    const { depth, x } = project(camera, at);
    if (depth > 0.8 && x > -200 && x < camera.centreX * 2 + 200) props.push({ depth, paint });
  };
  for (let k = first; k <= last; k++) {
    const z = k * BOLLARD_SPACING;
    const at: Vec3 = [EDGE_X - 0.5, 0, z];
    add(at, () => {
      paintChain(context, camera, z);
      paintFigure(context, BOLLARD, standing(at), camera, 0.6);
    });
  }
  for (const z of POSTS_Z) {
    const at: Vec3 = [POST_X, 0, z];
    add(at, () => {
      paintGlow(context, camera, [POST_X, 2.4, z]);
      paintFigure(context, LAMP_POST, standing(at), camera, 0.65);
    });
  }
  props.sort((a, b) => b.depth - a.depth);
  for (const prop of props) prop.paint();
}

const LINKS = 36;

function paintChain(context: CanvasRenderingContext2D, camera: Camera, z: number): void {
  context.save();
  context.strokeStyle = GRAPHITE;
  context.lineWidth = 1.3;
  context.beginPath();
  const x = EDGE_X - 0.5;
  const sag = (t: number): Vec3 => [
    x,
    0.3 - 0.22 * (1 - (2 * t - 1) ** 2),
    z + t * BOLLARD_SPACING,
  ];
  // Links drawn one by one: dashing a line is dear.
  for (let i = 0; i < LINKS; i++) {
    traceLine(context, camera, sag(i / LINKS), sag((i + 0.62) / LINKS));
  }
  context.stroke();
  context.restore();
}

function paintGlow(context: CanvasRenderingContext2D, camera: Camera, at: Vec3): void {
  const { x, y, scale } = project(camera, at);
  const radius = 0.8 * scale;
  const glow = context.createRadialGradient(x, y, 0, x, y, radius);
  glow.addColorStop(0, GLOW);
  glow.addColorStop(1, 'rgba(240, 178, 74, 0)');
  context.fillStyle = glow;
  context.fillRect(x - radius, y - radius, radius * 2, radius * 2);
}
