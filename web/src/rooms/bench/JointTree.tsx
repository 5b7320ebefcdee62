import { useEffect, useMemo, useRef } from 'react';
import type { Clip } from '../../api/clips';
import type { Player } from '../../player/player';
import { useFrame } from '../../player/useFrame';
import type { Kind } from './kinds';

interface JointTreeProps {
  readonly bench: Clip['bench'];
  readonly player: Player;
  readonly joints: readonly string[];
  readonly onJoints: (joints: readonly string[]) => void;
}

/** The figure's joints as a tree; signs say what of each is keyed here, and what elsewhere. */
export function JointTree({ bench, player, joints, onJoints }: JointTreeProps) {
  const frame = useFrame(player);
  const list = useRef<HTMLUListElement>(null);
  const depths = useMemo(() => {
    const found: number[] = [];
    for (const joint of bench.joints) {
      found.push(joint.parent < 0 ? 0 : found[joint.parent] + 1);
    }
    return found;
  }, [bench.joints]);
  const keyed = useMemo(() => {
    const found = new Map<string, Record<Kind, Set<number>>>();
    for (const curve of bench.curves) {
      const known = found.get(curve.joint) ?? {
        move: new Set(),
        turn: new Set(),
        scale: new Set(),
      };
      for (const key of curve.keys) known[curve.kind].add(key.time);
      found.set(curve.joint, known);
    }
    return found;
  }, [bench.curves]);
  useEffect(() => {
    if (joints.length !== 1) return;
    list.current?.querySelector('.is-chosen')?.scrollIntoView({ block: 'nearest' });
  }, [joints]);
  const pick = (name: string, adding: boolean) => {
    if (!adding) onJoints([name]);
    else if (joints.includes(name)) onJoints(joints.filter((joint) => joint !== name));
    else onJoints([...joints, name]);
  };
  return (
    <aside className="joint-tree" aria-label="Joints">
      <div className="sheet-head">
        <h2>Joints</h2>
        <span className="quiet number">
          {joints.length} of {bench.joints.length}
        </span>
      </div>
      <ul ref={list} className="joint-list">
        {bench.joints.map((joint, place) => {
          const own = keyed.get(joint.name);
          const isChosen = joints.includes(joint.name);
          return (
            <li key={joint.name}>
              <button
                type="button"
                aria-pressed={isChosen}
                className={isChosen ? 'is-chosen' : ''}
                style={{ paddingLeft: 10 + depths[place] * 9 }}
                onClick={(event) => pick(joint.name, event.shiftKey || event.ctrlKey)}
              >
                <span className="joint-name">{joint.label}</span>
                {joint.side !== 'middle' && <i className={`side-mark is-${joint.side}`} />}
                <span className="grow" />
                {own?.scale.size ? <KeySign kind="scale" times={own.scale} frame={frame} /> : null}
                <KeySign kind="move" times={own?.move} frame={frame} />
                <KeySign kind="turn" times={own?.turn} frame={frame} />
              </button>
            </li>
          );
        })}
      </ul>
      <p className="quiet joint-legend">
        Keyed: <KeySign kind="move" times={new Set([0])} frame={0} /> move{' '}
        <KeySign kind="turn" times={new Set([0])} frame={0} /> turn{' '}
        <KeySign kind="scale" times={new Set([0])} frame={0} /> scale. Hollow: on other frames.
      </p>
    </aside>
  );
}

interface KeySignProps {
  readonly kind: Kind;
  readonly times: ReadonlySet<number> | undefined;
  readonly frame: number;
}

/** Move is a circle, turn a half-disc, scale a square; filled is keyed here, hollow elsewhere. */
function KeySign({ kind, times, frame }: KeySignProps) {
  if (!times?.size) return <svg className="key-sign" viewBox="0 0 10 10" aria-hidden="true" />;
  const here = times.has(frame);
  const says = `${kind} keyed ${here ? 'here' : 'on other frames'}`;
  return (
    <svg className={`key-sign is-${kind} ${here ? 'is-here' : ''}`} viewBox="0 0 10 10" role="img">
      <title>{says}</title>
      {kind === 'move' && <circle cx="5" cy="5" r="3.2" />}
      {kind === 'turn' && <path d="M1.4 7A3.6 3.6 0 0 1 8.6 7Z" />}
      {kind === 'scale' && <rect x="2" y="2" width="6" height="6" />}
    </svg>
  );
}
