/** A dress made ready for painting: joints as numbers, rings as balls. */

import type { components } from '../api/schema';
import { type CostumeCard, cardsOf } from './cards';
import { INK, mix } from './colour';
import type { PictureStore } from './pictureStore';
import { sub, type Vec3 } from './vector';

export type Figure = components['schemas']['Figure'];
type Dress = Figure['dress'];
type Hull = NonNullable<NonNullable<Dress>['hulls']>[number];
type Detail = NonNullable<NonNullable<Dress>['details']>[number];
type DressBall = Hull['sections'][number][number];

const RING = 20;

interface Ball {
  readonly joint: number;
  readonly offset: Vec3;
  readonly radius: number;
  /** Hung between its joint and another: the other joint, and how far towards it. */
  readonly towards: number;
  readonly share: number;
}

/** Balls of one outline, and the runs of them that belong together (a ring, or one ball). */
export interface Piece {
  readonly balls: readonly number[];
  readonly sets: readonly (readonly [number, number])[];
}

interface AnchoredPoint {
  readonly joint: number;
  readonly offset: Vec3;
}

export interface Stroke {
  readonly joint: number;
  readonly points: readonly AnchoredPoint[];
  readonly dots: boolean;
  readonly detail: Detail;
}

/** Hides the seam of a chain that is sorted apart: opens the later piece toward an earlier one. */
interface Stub {
  readonly neighbour: number;
  readonly at: number;
  readonly shade: Piece;
  readonly lit: Piece;
}

export interface Unit {
  readonly hull: Hull;
  readonly name: string;
  readonly weld: string;
  readonly shade: string;
  readonly pieces: readonly Piece[];
  readonly anchor: readonly number[];
  readonly sequence: number;
  readonly stubs: readonly Stub[];
  readonly strokes: Stroke[];
}

export interface Costume {
  readonly figure: Figure;
  readonly balls: readonly Ball[];
  readonly units: readonly Unit[];
  readonly covers: ReadonlySet<string>;
  readonly groups: Readonly<Record<string, number>>;
  /** The parts of a cut-out, and where their pictures come from. */
  readonly cards: readonly CostumeCard[];
  readonly pictures: PictureStore | null;
}

/** A costume; a cut-out’s pictures come from `pictures`. */
export function makeCostume(figure: Figure, pictures: PictureStore | null = null): Costume {
  const maker = new CostumeMaker(figure);
  const dress = figure.dress ?? {};
  for (const hull of dress.hulls ?? []) maker.addHull(hull);
  for (const detail of dress.details ?? []) maker.addDetail(detail);
  const covers = new Set(maker.units.flatMap((unit) => unit.hull.under ?? []));
  return {
    figure,
    balls: maker.balls,
    units: maker.units,
    covers,
    groups: dress.groups ?? {},
    cards: cardsOf(figure),
    pictures,
  };
}

class CostumeMaker {
  readonly balls: Ball[] = [];
  readonly units: Unit[] = [];
  private readonly places: Map<string, number>;

  constructor(figure: Figure) {
    this.places = new Map(figure.joints.map((joint, place) => [joint.name, place]));
  }

  addHull(hull: Hull): void {
    const sections = hull.sections.map((section) => this.section(section));
    const pieces =
      sections.length > 1
        ? sections.slice(1).map((section, i) => joined(sections[i], section))
        : sections;
    const anchor = (hull.anchor ?? []).map((joint) => this.anchor(joint));
    const unit = (own: readonly Piece[], sequence: number, stubs: readonly Stub[]): Unit => ({
      hull,
      name: hull.name,
      weld: hull.weld ?? hull.name,
      shade: hull.shade ?? mix(hull.fill, INK, 0.26),
      pieces: own,
      anchor,
      sequence,
      stubs,
      strokes: [],
    });
    if (!hull.split) {
      this.units.push(unit(pieces, -1, []));
      return;
    }
    pieces.forEach((piece, k) => {
      const stubs = [this.stub(sections, k, k - 1), this.stub(sections, k + 1, k + 2)];
      this.units.push(
        unit(
          [piece],
          k,
          stubs.filter((stub) => stub !== null),
        ),
      );
    });
  }

  addDetail(detail: Detail): void {
    const units = this.units.filter((unit) => unit.name === detail.on);
    if (!units.length) return;
    const joint = this.place(detail.joint);
    const marks = detail.dots?.length ? detail.dots : (detail.points ?? []);
    const points = marks.map((point) => ({
      joint: point.joint ? this.place(point.joint) : joint,
      offset: point.offset as Vec3,
    }));
    units[units.length - 1].strokes.push({
      joint,
      points,
      dots: Boolean(detail.dots?.length),
      detail,
    });
  }

  private place(joint: string): number {
    const place = this.places.get(joint);
    if (place === undefined) throw new Error(`The dress names no joint “${joint}”.`);
    return place;
  }

  private anchor(joint: string): number {
    const ball = { joint: this.place(joint), offset: [0, 0, 0], radius: 0, towards: -1, share: 0 };
    return this.balls.push(ball as unknown as Ball) - 1;
  }

  private ball(ball: DressBall, offset: Vec3): number {
    const towards = ball.to ? this.place(ball.to) : -1;
    const joint = this.place(ball.joint);
    const radius = ball.radius ?? 0;
    return this.balls.push({ joint, offset, radius, towards, share: ball.t ?? 0 }) - 1;
  }

  private section(section: readonly DressBall[]): Piece {
    const balls: number[] = [];
    const sets: [number, number][] = [];
    for (const ball of section) {
      const start = balls.length;
      const [x, y, z] = ball.offset ?? [0, 0, 0];
      if (ball.radius_x == null || ball.radius_z == null) {
        balls.push(this.ball(ball, [x, y, z]));
      } else {
        for (let i = 0; i < RING; i++) {
          const angle = (i / RING) * Math.PI * 2;
          const dx = ball.radius_x * Math.cos(angle);
          const dz = ball.radius_z * Math.sin(angle);
          const dy = (ball.tilt ?? 0) * dz + (ball.roll ?? 0) * dx;
          balls.push(this.ball(ball, [x + dx, y + dy, z + dz]));
        }
      }
      sets.push([start, balls.length]);
    }
    return { balls, sets };
  }

  /** Section `from` moved a little toward section `to`, as balls of its own. */
  private nudged(sections: readonly Piece[], from: number, to: number, far: number): Piece | null {
    const near = sections[from];
    const other = sections[to];
    if (!near || !other || near.balls.length !== other.balls.length) return null;
    const balls: number[] = [];
    for (const [k, id] of near.balls.entries()) {
      const a = this.balls[id];
      const b = this.balls[other.balls[k]];
      if (a.joint !== b.joint) return null;
      const apart = Math.hypot(...sub(a.offset, b.offset)) || 1;
      const t = Math.min(0.9, (far * a.radius) / apart);
      const offset = a.offset.map((v, axis) => v + (b.offset[axis] - v) * t) as unknown as Vec3;
      balls.push(
        this.balls.push({ ...a, offset, radius: a.radius + (b.radius - a.radius) * t }) - 1,
      );
    }
    return { balls, sets: near.sets };
  }

  private stub(sections: readonly Piece[], from: number, to: number): Stub | null {
    const out = this.nudged(sections, from, to, 2.2);
    const far = this.nudged(sections, from, to, 4.4);
    const back = this.nudged(sections, from, 2 * from - to, 2.2);
    if (!out || !far || !back) return null;
    return {
      neighbour: to < from ? from - 1 : from,
      at: out.balls[0],
      shade: joined(sections[from], out),
      lit: joined(back, far),
    };
  }
}

function joined(a: Piece, b: Piece): Piece {
  const shift = a.balls.length;
  const moved = b.sets.map(([start, end]) => [start + shift, end + shift] as const);
  return { balls: [...a.balls, ...b.balls], sets: [...a.sets, ...moved] };
}
