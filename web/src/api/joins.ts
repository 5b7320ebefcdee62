/** Joins: read-outs, where to join, both poses there, and the check strips. */

import { answered, api, packed, type Schemas } from './client';
import type { FramePack } from './framePack';

export type JoinReport = Schemas['JoinReport'];
export type LaneChecks = Schemas['LaneChecks'];
export type Planted = NonNullable<Schemas['Alignment']['plant']>;

/** A place where two stints could meet: the outgoing one's lane frame, the incoming one's own frame. */
export interface JoinPlace {
  readonly at: number;
  readonly in_frame: number;
  readonly score_cm: number;
  readonly planted: Planted;
}

/** Every pair of frames: how far apart both poses are, in centimetres, and which feet stand. */
export interface JoinMap {
  readonly outFrames: Float32Array;
  readonly inFrames: Float32Array;
  /** By rows: outgoing frame down, incoming frame across. */
  readonly score: Float32Array;
  /** Left and right of every frame. */
  readonly outFeet: Uint8Array;
  readonly inFeet: Uint8Array;
  readonly best: readonly JoinPlace[];
  readonly now: { readonly at: number; readonly in_frame: number };
}

const pathOf = (scene: string) => ({ path: { document_id: scene } });

export const readJoin = (scene: string, body: Schemas['JoinWanted']): Promise<JoinReport> =>
  answered(api.POST('/api/scenes/{document_id}/join', { params: pathOf(scene), body }));

export async function readJoinMap(scene: string, body: Schemas['JoinMapWanted']): Promise<JoinMap> {
  const pack = await packed(
    api.POST('/api/scenes/{document_id}/join-map', {
      params: pathOf(scene),
      body,
      parseAs: 'arrayBuffer',
    }),
  );
  return {
    outFrames: numbers(pack, 'out_frames', Float32Array),
    inFrames: numbers(pack, 'in_frames', Float32Array),
    score: numbers(pack, 'score', Float32Array),
    outFeet: numbers(pack, 'out_feet', Uint8Array),
    inFeet: numbers(pack, 'in_feet', Uint8Array),
    best: JSON.parse(pack.metadata.best) as JoinPlace[],
    now: JSON.parse(pack.metadata.now) as JoinMap['now'],
  };
}

/** Two frames of a figure: the outgoing stint's pose, and the incoming one's laid on it. */
export const readJoinPair = (scene: string, body: Schemas['JoinPairWanted']): Promise<FramePack> =>
  packed(
    api.POST('/api/scenes/{document_id}/join-pair', {
      params: pathOf(scene),
      body,
      parseAs: 'arrayBuffer',
    }),
  );

export const readChecks = (scene: string, body: Schemas['ChecksWanted']): Promise<LaneChecks[]> =>
  answered(api.POST('/api/scenes/{document_id}/checks', { params: pathOf(scene), body }));

function numbers<T>(pack: FramePack, name: string, Kind: { new (): T }): T {
  const found = pack.arrays.get(name)?.data;
  if (!(found instanceof Kind)) throw new Error(`The join’s map has no ${name}.`);
  return found;
}

export const plantedText = (planted: Planted): string =>
  ({ left: 'on the left', right: 'on the right', both: 'on both feet', none: 'in the air' })[
    planted
  ];
