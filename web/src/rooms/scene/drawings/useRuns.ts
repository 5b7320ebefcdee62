import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import type { RunCard } from '../../../api/drawings';
import { newId } from '../../../api/newId';
import type { DeskHit } from '../../../desk/TimeDesk';
import type { Vec3 } from '../../../stage/vector';
import type { Edit, SceneState } from '../useScene';

/** A run on its way to the desk, and the names of what it becomes there. */
export interface RunToLay {
  readonly run: RunCard;
  readonly stint: string;
  readonly layer: string;
}

interface RunsOf {
  readonly desk: Schemas['Desk'];
  readonly state: SceneState;
  /** Where a new card is to stand, and the way it is to face. */
  readonly standsAt: () => { readonly place: Vec3; readonly headingDegrees: number };
}

/** Runs of drawings laid on the desk: on a lane that shows their set, or as a new layer. */
export function useRuns({ desk, state, standsAt }: RunsOf) {
  const [target, setTarget] = useState<DeskHit | null>(null);
  const fresh = (run: RunCard): RunToLay => ({ run, stint: newId(), layer: newId() });
  const edit = ({ run, stint, layer }: RunToLay, hit: DeskHit): Edit | null => {
    if (!run.drawings) return null;
    const lane = desk.lanes.find((one) => one.id === hit.lane);
    if (lane && lane.takes_runs_of === run.drawings) {
      return {
        kind: 'place_stint',
        stint,
        source: { kind: 'run', id: run.id },
        start: Math.max(0, Math.round(hit.frame)),
        lane: lane.id,
        ripple: false,
        mapping: null,
      };
    }
    const { place, headingDegrees } = standsAt();
    return {
      kind: 'add_layer',
      layer,
      drawings: run.drawings,
      run: run.id,
      name: null,
      stands: 'card',
      place: [place[0], 0, place[2]],
      heading_degrees: headingDegrees,
      height_metres: 1,
      faces_camera: false,
      repeats: false,
      start: hit.lane === null ? 0 : Math.max(0, Math.round(hit.frame)),
      to: null,
      joint: null,
    };
  };
  const lay = (what: RunToLay, hit: DeskHit) => {
    const wanted = edit(what, hit);
    if (wanted) state.edit(wanted);
  };
  return {
    target,
    fresh,
    over: (what: RunToLay, hit: DeskHit | null) => {
      setTarget(hit);
      state.showPreview(hit && edit(what, hit));
    },
    drop: (what: RunToLay, hit: DeskHit | null) => {
      setTarget(null);
      state.showPreview(null);
      if (hit) lay(what, hit);
    },
    /** Without a mouse: on the chosen lane at the playhead, or as a layer over the whole scene. */
    place: (what: RunToLay, lane: string | null, frame: number) =>
      lay(what, { lane, soundLane: null, frame }),
    letGo: () => {
      setTarget(null);
      state.showPreview(null);
    },
  };
}
