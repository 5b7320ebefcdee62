/** What is on the stage, and how it is looked at. */

import type { Lens, PosedFigure } from '../api/framePack';
import type { Orbit } from './camera';
import type { Costume } from './costume';
import type { StageLayer } from './layers';
import type { DrawnPart } from './mouth';
import type { Underlay } from './underlay';
import type { Vec3 } from './vector';

/** A joint that was clicked, by its place in the figure. */
export interface ArcOf {
  readonly figure: string;
  readonly joint: number;
}

export interface Ghosts {
  readonly shown: boolean;
  /** How many on either side, and how many frames apart. */
  readonly count: number;
  readonly step: number;
  /** Only frames of the loop. */
  readonly inLoop: boolean;
  /** The neighbouring keys, and not frames so far apart. */
  readonly ofKeys?: boolean;
  /** Side by side across the picture, and not where they stand. */
  readonly spread?: boolean;
}

/** x, z and heading: metres and radians. */
export type Mark = readonly [number, number, number];

/** A foot on the ground in scene frames, with the places of its joints (−1: none). */
export interface Plant {
  readonly side: string;
  readonly start: number;
  readonly end: number;
  readonly foot: number;
  readonly toe: number;
}

export interface StageFigure {
  readonly id: string;
  readonly name: string;
  readonly costume: Costume;
  readonly mark: Mark;
  readonly plants: readonly Plant[];
  /** Frames at which its stints start. */
  readonly starts: readonly number[];
  /** Parts of it that are drawn. */
  readonly drawn?: readonly DrawnPart[];
  /** In blue pencil, and not in ink: what it was before. */
  readonly inPencil?: boolean;
}

/** Both poses of a place where two stints could meet: the outgoing one and the incoming one, laid on it. */
export interface StagePair {
  readonly figure: string;
  readonly stint: string;
  readonly before: PosedFigure;
  readonly after: PosedFigure;
  readonly planted: 'left' | 'right' | 'both' | 'none';
}

/** Where a guide is at a frame: x, y, z in metres, and its heading in radians. */
export type GuidePlace = readonly [number, number, number, number];

export interface StageGuide {
  readonly id: string;
  readonly name: string;
  readonly at: (frame: number) => GuidePlace | null;
}

export interface StageScene {
  readonly figures: readonly StageFigure[];
  readonly pose: (figure: string, frame: number) => PosedFigure | null;
  /** The number of the drawing that a part of a figure shows at a frame; −1 for none. */
  readonly drawing?: (figure: string, part: string, frame: number) => number;
  /** In which order a part of a cut-out lies at a frame; none where it lies as it was made. */
  readonly order?: (figure: string, card: string, frame: number) => number | null;
  readonly length: number;
  readonly firstFrame: number;
  readonly backdrop: 'paper' | 'quay';
  /** Frames that have keys, in order, where a clip is made of them. */
  readonly keyFrames?: readonly number[];
  /** A cycle in place: past its ends it goes round. */
  readonly goesRound?: boolean;
  /** What the pose of a frame is called. */
  readonly poseName?: (frame: number) => string | undefined;
  /** A join that is looked at. */
  readonly pair?: StagePair | null;
  /** The scene’s camera, where it has one. */
  readonly lens?: (frame: number) => Lens | null;
  /** Layers of drawings, from the lowest to the uppermost. */
  readonly layers?: readonly StageLayer[];
  /** What carries figures, and is in no print. */
  readonly guides?: readonly StageGuide[];
  /** The picture that is traced at a frame. */
  readonly underlay?: (frame: number) => Underlay | null;
}

export interface StageView {
  readonly orbit: Orbit;
  readonly ghosts: Ghosts;
  /** Where the camera looks when it does not follow. */
  readonly follow: boolean;
  readonly target: Vec3;
  /** The figure that is followed; the first one where it is not on the stage. */
  readonly watched: string | null;
  readonly arcs: { readonly shown: boolean; readonly joints: readonly ArcOf[] };
  readonly prints: boolean;
  readonly planInset: boolean;
  /** Seen through the scene’s camera, and a small picture of what that sees. */
  readonly through?: boolean;
  readonly cameraInset?: boolean;
  /** The picture alone: no grid, no numbers, no shadowed neighbours. */
  readonly plain?: boolean;
  /** The ground’s grid; without a word as in every view that is not plain. */
  readonly grid?: boolean;
  /** On its way out of the house: the camera’s picture has no corners, and nothing shows beside it. */
  readonly isPrint?: boolean;
  /** Figures and drawings alone, without paper or quay. */
  readonly transparent?: boolean;
  /** Now alone: what has no frames has no numbers. */
  readonly isLive?: boolean;
  readonly counts: boolean;
}
