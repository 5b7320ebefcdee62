import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { Cleaned, Take } from '../../api/takes';
import type { FrameStore } from '../../player/frameStore';
import { orbitCamera } from '../../stage/camera';
import { costumeQuery } from '../../stage/Filmstrip';
import type { Plant, StageFigure, StageScene, StageView } from '../../stage/scene';
import { aside } from '../../stage/stagePainter';
import type { TakesMemory } from './takesMemory';

const CAPTURED = 'captured';
const CLEANED = 'cleaned';
/** How far the take as captured stands beside the cleaned figure. */
const BESIDE_METRES = 1.25;
const MOST_ARCS = 3;

interface StageOptions {
  readonly take: Take;
  readonly cleaned: Cleaned | null;
  readonly memory: TakesMemory;
  readonly joints: readonly string[];
  readonly frames: FrameStore;
}

/** Who stands on the stage of a take: as captured in blue pencil, as cleaned in ink. */
export function useTakeStage({ take, cleaned, memory, joints, frames }: StageOptions) {
  const figure = cleaned?.figure ?? take.take.onto?.figure ?? take.take.figure;
  const costume = useQuery(costumeQuery(figure));
  const { compare, view } = memory;
  const scene = useMemo((): StageScene => {
    const places = new Map(cleaned?.joints.map((name, place) => [name, place]));
    const plants: Plant[] = (cleaned?.plants ?? []).flatMap((plant) => {
      const foot = footOf(cleaned, plant.side);
      return foot ? [{ side: plant.side, start: plant.start, end: plant.end, ...foot }] : [];
    });
    const dressed = costume.data;
    const figures: StageFigure[] = [];
    const base = { mark: [0, 0, 0], starts: [] } as const;
    if (dressed && compare !== 'cleaned')
      figures.push({
        ...base,
        id: CAPTURED,
        name: 'As captured',
        costume: dressed,
        plants: compare === 'captured' ? plants : [],
        inPencil: true,
      });
    if (dressed && compare !== 'captured')
      figures.push({ ...base, id: CLEANED, name: 'Cleaned', costume: dressed, plants });
    const camera = orbitCamera(view.orbit, [0, 0, 0], 100, 100);
    return {
      figures,
      pose: (id, frame) => {
        const pose = frames.pose(id, frame);
        const stands = compare === 'beside' && id === CAPTURED;
        return pose && stands ? aside(pose, camera, -BESIDE_METRES) : pose;
      },
      length: cleaned?.frames ?? 1,
      firstFrame: 0,
      backdrop: 'paper',
      poseName: (frame) => (places.size ? sourceOf(cleaned, frame) : ''),
    };
  }, [cleaned, costume.data, compare, view.orbit, frames]);
  const seen = useMemo((): StageView => {
    const watched = compare === 'captured' ? CAPTURED : CLEANED;
    const shown = compare === 'beside' || compare === 'under' ? [CAPTURED, CLEANED] : [watched];
    const places = joints
      .slice(0, MOST_ARCS)
      .map((name) => cleaned?.joints.indexOf(name) ?? -1)
      .filter((place) => place >= 0);
    const arcs = shown.flatMap((id) => places.map((joint) => ({ figure: id, joint })));
    return { ...view, watched, arcs: { ...view.arcs, joints: arcs } };
  }, [view, compare, joints, cleaned]);
  return { scene, view: seen };
}

/** The source frame that plays, as it is said beside the figure. */
function sourceOf(cleaned: Cleaned | null, frame: number): string {
  const at = cleaned?.at[frame];
  return at === undefined ? '' : `source ${Math.round(at)}`;
}

/** A side's foot and toes by their places in the figure. */
function footOf(cleaned: Cleaned | null, side: string) {
  const plant = cleaned?.plants.find((one) => one.side === side);
  if (!cleaned || !plant) return null;
  const foot = cleaned.joints.indexOf(plant.joint);
  const toe = plant.toe_joint ? cleaned.joints.indexOf(plant.toe_joint) : -1;
  return { foot, toe };
}
