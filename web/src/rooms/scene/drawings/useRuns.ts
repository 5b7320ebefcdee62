import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import type { RunCard } from '../../../api/drawings';
import { newId } from '../../../api/newId';
import type { DeskHit } from '../../../desk/TimeDesk';
import type { Vec3 } from '../../../stage/vector';
import type { Edit, SceneState } from '../useScene';

/** A run on its way to the desk or the stage, and the names of what it becomes there. */
export interface RunToLay {
  readonly run: RunCard;
  readonly stint: string;
  readonly layer: string;
  readonly lane: string;
}

/** Where on the stage something is let go: on a figure’s joint, or on the ground. */
export interface StageHit {
  readonly place: Vec3;
  readonly headingDegrees: number;
  readonly on: { readonly figure: string; readonly joint: string } | null;
}

/** Where a run is let go: over the desk, over the stage, or over neither. */
interface RunHit {
  readonly desk: DeskHit | null;
  readonly stage: StageHit | null;
}

interface RunsOf {
  readonly desk: Schemas['Desk'];
  readonly state: SceneState;
  /** Where a new card stands that is let go on the desk. */
  readonly standsAt: () => StageHit;
  readonly onLaid: (lane: string) => void;
}

/** Runs of drawings laid on the desk or the stage: on a lane that shows their set, or as a new layer. */
export function useRuns({ desk, state, standsAt, onLaid }: RunsOf) {
  const [target, setTarget] = useState<DeskHit | null>(null);
  const fresh = (run: RunCard): RunToLay => ({
    run,
    stint: newId(),
    layer: newId(),
    lane: newId(),
  });
  const laneOf = ({ run }: RunToLay, hit: RunHit) => {
    const lane = desk.lanes.find((one) => one.id === hit.desk?.lane);
    return lane && lane.takes_runs_of === run.drawings ? lane : undefined;
  };
  const edit = (what: RunToLay, hit: RunHit): Edit | null => {
    const { run, stint, layer, lane } = what;
    if (!run.drawings || (!hit.desk && !hit.stage)) return null;
    const start = Math.max(0, Math.round(hit.desk?.frame ?? 0));
    const own = laneOf(what, hit);
    if (own) {
      const source = { kind: 'run', id: run.id } as const;
      return {
        kind: 'place_stint',
        stint,
        source,
        start,
        lane: own.id,
        ripple: false,
        mapping: null,
      };
    }
    const { place, headingDegrees, on } = hit.stage ?? standsAt();
    return {
      kind: 'add_layer',
      layer,
      lane,
      drawings: run.drawings,
      run: run.id,
      name: null,
      stands: 'card',
      place: [place[0], 0, place[2]],
      heading_degrees: headingDegrees,
      height_metres: on ? ON_A_JOINT_METRES : 1,
      faces_camera: on !== null,
      repeats: false,
      start: hit.desk?.lane ? start : 0,
      to: on?.figure ?? null,
      joint: on?.joint ?? null,
    };
  };
  const lay = (what: RunToLay, hit: RunHit) => {
    const wanted = edit(what, hit);
    if (!wanted) return;
    state.edit(wanted);
    onLaid(laneOf(what, hit)?.id ?? what.lane);
  };
  return {
    target,
    fresh,
    over: (what: RunToLay, hit: RunHit) => {
      setTarget(hit.desk);
      state.showPreview(edit(what, hit));
    },
    drop: (what: RunToLay, hit: RunHit) => {
      setTarget(null);
      state.showPreview(null);
      lay(what, hit);
    },
    /** Without a mouse: on the chosen lane at the playhead, or as a layer over the whole scene. */
    place: (what: RunToLay, lane: string | null, frame: number) =>
      lay(what, { desk: { lane, soundLane: null, frame }, stage: null }),
    letGo: () => {
      setTarget(null);
      state.showPreview(null);
    },
  };
}

/** What rides on a joint is as large as a lamp. */
const ON_A_JOINT_METRES = 0.34;
