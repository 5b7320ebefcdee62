import { useQuery } from '@tanstack/react-query';
import type { Schemas } from '../../../api/client';
import { Tick } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { bodyQuery } from '../bodyQuery';
import type { Edit } from '../useScene';

interface LaneMaskProps {
  readonly lane: Schemas['DeskLane'];
  readonly figure: string;
  readonly disabled: boolean;
  readonly onEdit: (edit: Edit) => void;
}

/** Which joints a lane over others drives; the rest stays as it is below, to the bit. */
export function LaneMask({ lane, figure, disabled, onEdit }: LaneMaskProps) {
  const { data: body } = useQuery(bodyQuery(figure));
  if (!body) return null;
  const every = body.joints.map((joint) => joint.name);
  const played = new Set(lane.mask ?? every);
  const choose = (joints: readonly string[] | null) =>
    onEdit({ kind: 'mask_lane', lane: lane.id, joints: joints && [...joints] });
  const isPart = (names: readonly string[]) =>
    names.length === played.size && names.every((name) => played.has(name));
  const depths = depthsOf(body.joints);
  /** A joint with all that hangs on it. */
  const flip = (place: number, on: boolean) => {
    const wanted = new Set(played);
    for (const name of hangingOn(body.joints, place)) {
      if (on) wanted.add(name);
      else wanted.delete(name);
    }
    choose(every.filter((name) => wanted.has(name)));
  };
  return (
    <section aria-label="Joints that the lane drives">
      <h3>
        It drives <em>{lane.mask ? counted(played.size, 'joint') : 'the whole figure'}</em>
      </h3>
      <div className="part-choice">
        <button
          type="button"
          aria-pressed={lane.mask === null}
          disabled={disabled}
          onClick={() => choose(null)}
        >
          Whole figure
        </button>
        {Object.entries(body.parts).map(([part, names]) => (
          <button
            key={part}
            type="button"
            aria-pressed={lane.mask !== null && isPart(names)}
            disabled={disabled}
            onClick={() => choose(names)}
          >
            {part}
          </button>
        ))}
      </div>
      <ul className="mask-tree" aria-label="By hand: a joint and what hangs on it">
        {body.joints.map((joint, place) => (
          <li key={joint.name} style={{ paddingLeft: depths[place] * 9 }}>
            <Tick
              label={joint.label}
              checked={played.has(joint.name)}
              disabled={disabled}
              onChange={(on) => flip(place, on)}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

type Joint = Schemas['BodyJoint'];

/** Parents come before their children. */
function depthsOf(joints: readonly Joint[]): number[] {
  const depths: number[] = [];
  for (const { parent } of joints) depths.push(parent < 0 ? 0 : depths[parent] + 1);
  return depths;
}

function hangingOn(joints: readonly Joint[], top: number): string[] {
  const found = new Set([top]);
  joints.forEach(({ parent }, place) => {
    if (found.has(parent)) found.add(place);
  });
  return [...found].map((place) => joints[place].name);
}
