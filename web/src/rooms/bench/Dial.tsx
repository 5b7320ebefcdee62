import { type PointerEvent, useEffect, useMemo, useRef } from 'react';
import type { Chosen, Clip, ClipEdit } from '../../api/clips';
import { startDraw } from '../../app/drawing';
import type { Player } from '../../player/player';
import { withBenchKey } from './benchKeys';
import { chosenAt, keysOf } from './sheet';

interface DialProps {
  readonly bench: Clip['bench'];
  readonly player: Player;
  readonly mayChange: boolean;
  readonly onKeys: (keys: Chosen) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onEdit: (edit: ClipEdit) => void;
}

const SIZE = 292;
const MIDDLE = SIZE / 2;
const RIM = 103;
const CONTACT = { left: 117, right: 124 } as const;
const RINGS = [84, 76, 68, 60, 52, 44] as const;
const HUB = 27;
const MOST_NUMBERS = 24;

/** Clockwise from twelve. */
const angleOf = (frame: number, length: number) => (frame / length) * Math.PI * 2;
const at = (frame: number, length: number, radius: number) => {
  const angle = angleOf(frame, length);
  return [MIDDLE + Math.sin(angle) * radius, MIDDLE - Math.cos(angle) * radius] as const;
};

/** A cycle as a clock face: frames round the rim, the seam at twelve, contacts as arcs, keys as beads. */
export function Dial(props: DialProps) {
  const { bench, player, mayChange, onEdit, onPreview } = props;
  const svg = useRef<SVGSVGElement>(null);
  const length = bench.length_frames;
  const step = Math.max(1, Math.ceil(length / MOST_NUMBERS));
  const parts = useMemo(() => {
    const names = [...new Set(bench.joints.map((joint) => joint.body_part))].slice(0, RINGS.length);
    return names.map((name) => {
      const joints = bench.joints.filter((j) => j.body_part === name).map((j) => j.name);
      const own = new Set(joints);
      const keys = keysOf(
        bench.curves.filter((curve) => own.has(curve.joint)),
        length,
      );
      return { name, joints, side: bench.joints.find((j) => j.name === joints.at(-1))?.side, keys };
    });
  }, [bench, length]);

  const frameUnder = (event: { clientX: number; clientY: number }): number => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return 0;
    const x = event.clientX - box.left - box.width / 2;
    const y = event.clientY - box.top - box.height / 2;
    const turn = Math.atan2(x, -y) / (Math.PI * 2);
    return (((turn % 1) + 1) % 1) * length;
  };
  const whole = (frame: number) => Math.round(frame) % length;

  const scrub = (event: PointerEvent) => {
    player.pause();
    player.goTo(whole(frameUnder(event)));
    startDraw(event.clientX, event.clientY, {
      onMove: (_dx, _dy, moved) => player.goTo(whole(frameUnder(moved))),
      onDrop: () => {},
      onCancel: () => {},
    });
  };
  /** Draw something round the dial, by whole frames: shown on the way, made when it is let go. */
  const drawEdit = (
    event: PointerEvent,
    editOf: (frames: number) => ClipEdit,
    onPress?: () => void,
  ) => {
    const from = frameUnder(event);
    const drawn = (moved: { clientX: number; clientY: number }): ClipEdit | null => {
      const frames = shortWay(Math.round(frameUnder(moved) - from), length);
      return frames ? editOf(frames) : null;
    };
    startDraw(event.clientX, event.clientY, {
      onMove: (_dx, _dy, moved) => onPreview(drawn(moved)),
      onDrop: (_dx, _dy, dropped) => {
        const edit = drawn(dropped);
        if (edit) onEdit(edit);
        else onPreview(null);
      },
      ...(onPress && { onPress }),
      onCancel: () => onPreview(null),
    });
  };
  const drawBead = (event: PointerEvent, joints: readonly string[], time: number) => {
    event.stopPropagation();
    const held = chosenAt(bench, joints, (other) => other === time);
    if (!Object.keys(held).length) return;
    props.onKeys(held);
    if (!mayChange) return;
    const chosen = Object.fromEntries(Object.entries(held).map(([k, v]) => [k, [...v]]));
    drawEdit(
      event,
      (frames) => ({ kind: 'move_keys', chosen, frames, ripple: false, snap: true }),

      () => player.goTo(whole(time)),
    );
  };
  const turn = (event: PointerEvent) => {
    event.stopPropagation();
    if (!mayChange || !bench.is_cycle) return;
    drawEdit(event, (frames) => ({
      kind: 'turn_dial',
      frames: -frames,
    }));
  };
  const drawContact = (event: PointerEvent, plant: Plant, grip: ContactGrip) => {
    event.stopPropagation();
    if (!mayChange) return;
    drawEdit(
      event,
      (frames) => ({ kind: 'move_plant', place: plant.place, grip, frames }),
      () => player.goTo(whole(plant.start)),
    );
  };

  return (
    <svg
      ref={svg}
      className="dial"
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      role="img"
      aria-label={`The dial: ${length} frames, ${bench.plants.length} contacts, ${bench.poses.length} named poses`}
      onPointerDown={scrub}
    >
      <title>Draw the hand to scrub</title>
      <circle cx={MIDDLE} cy={MIDDLE} r={RIM} className="dial-face" />
      {bench.half_linked && (
        <path
          className="dial-half"
          d={`M${MIDDLE} ${MIDDLE - RIM}A${RIM} ${RIM} 0 0 0 ${MIDDLE} ${MIDDLE + RIM}Z`}
        />
      )}
      {parts.map((part, ring) => (
        <circle key={part.name} cx={MIDDLE} cy={MIDDLE} r={RINGS[ring]} className="dial-ring" />
      ))}
      <circle
        cx={MIDDLE}
        cy={MIDDLE}
        r={RIM - 8}
        className={`dial-rim ${mayChange && bench.is_cycle ? 'is-live' : ''}`}
        onPointerDown={turn}
      >
        <title>{withBenchKey('Draw the rim: another frame is the first', 'startHere')}</title>
      </circle>
      {Array.from({ length: Math.ceil(length / step) }, (_, k) => k * step).map((frame) => {
        const [x, y] = at(frame, length, RIM - 8);
        return (
          <text key={frame} className="dial-number" x={x} y={y + 3.5} textAnchor="middle">
            {frame}
          </text>
        );
      })}
      <Contacts bench={bench} mayChange={mayChange} onGrab={drawContact} />
      {bench.is_cycle && <Seam grade={bench.seam?.grade ?? 'closed'} />}
      {parts.map((part, ring) =>
        part.keys
          .filter((key) => key.time < length)
          .map((key) => {
            const [x, y] = at(key.time, length, RINGS[ring]);
            return (
              <circle
                key={`${part.name} ${key.time}`}
                cx={x}
                cy={y}
                r={length > 60 ? 2 : 3.2}
                className={`bead is-${part.side} ${key.own ? '' : 'follows'}`}
                onPointerDown={(event) => drawBead(event, part.joints, key.time)}
              >
                <title>
                  {part.name}, frame {key.time}
                </title>
              </circle>
            );
          }),
      )}
      {bench.poses.map((pose) => {
        const [x, y] = at(pose.frame, length, 136);
        const angle = (angleOf(pose.frame, length) * 180) / Math.PI;
        const upright = angle > 90 && angle < 270 ? angle + 180 : angle;
        return (
          <text
            key={pose.frame}
            className="dial-pose"
            x={x}
            y={y}
            dy="3.5"
            textAnchor="middle"
            transform={`rotate(${upright} ${x} ${y})`}
          >
            {pose.name}
          </text>
        );
      })}
      <Hand player={player} length={length} />
    </svg>
  );
}

type Plant = Clip['bench']['plants'][number];
type ContactGrip = 'body' | 'start' | 'end';

/** The nearer way round. */
export function shortWay(frames: number, length: number): number {
  if (frames > length / 2) return frames - length;
  return frames < -length / 2 ? frames + length : frames;
}

interface ContactsProps {
  readonly bench: Clip['bench'];
  readonly mayChange: boolean;
  readonly onGrab: (event: PointerEvent, plant: Plant, grip: ContactGrip) => void;
}

/** Contacts as arcs round the rim, left solid, right hatched: drawn along, or by their ends. */
function Contacts({ bench, mayChange, onGrab }: ContactsProps) {
  const length = bench.length_frames;
  return (
    <g fill="none">
      {bench.plants.map((plant) => {
        const radius = plant.side === 'right' ? CONTACT.right : CONTACT.left;
        const span = Math.min(plant.end - plant.start, length - 0.01);
        const [x, y] = at(plant.start, length, radius);
        const [toX, toY] = at(plant.start + span, length, radius);
        const large = span > length / 2 ? 1 : 0;
        const d = `M${x} ${y}A${radius} ${radius} 0 ${large} 1 ${toX} ${toY}`;
        return (
          <g key={plant.place}>
            <title>
              {plant.label} stands, frames {plant.start} to {plant.end}
              {mayChange ? '; draw it, or one of its ends' : ''}
            </title>
            <path d={d} className={`contact is-${plant.side}`} />
            {plant.side === 'right' && <path d={d} className="contact-hatch" />}
            {mayChange && (
              <>
                <path
                  d={d}
                  className="contact-grip"
                  onPointerDown={(event) => onGrab(event, plant, 'body')}
                />
                {(['start', 'end'] as const).map((grip) => (
                  <circle
                    key={grip}
                    cx={grip === 'start' ? x : toX}
                    cy={grip === 'start' ? y : toY}
                    r={6}
                    className="contact-end"
                    data-contact={`${plant.label} ${grip}`}
                    onPointerDown={(event) => onGrab(event, plant, grip)}
                  />
                ))}
              </>
            )}
          </g>
        );
      })}
    </g>
  );
}

function Seam({ grade }: { grade: string }) {
  const stitches = Array.from({ length: 6 }, (_, k) => MIDDLE - HUB - 9 - k * 9);
  return (
    <g className={`dial-seam is-${grade}`}>
      <title>The seam is {grade}</title>
      {stitches.map((y) => (
        <path
          key={y}
          d={`M${MIDDLE - 2.4} ${y - 2.4}l4.8 4.8M${MIDDLE + 2.4} ${y - 2.4}l-4.8 4.8`}
        />
      ))}
    </g>
  );
}

/** The hand: an elastic loop from the hub to the rim, moved by the player and not by React. */
function Hand({ player, length }: { player: Player; length: number }) {
  const hand = useRef<SVGGElement>(null);
  const number = useRef<SVGTextElement>(null);
  useEffect(() => {
    const move = (frame: number) => {
      const degrees = (angleOf(frame, length) * 180) / Math.PI;
      hand.current?.setAttribute('transform', `rotate(${degrees} ${MIDDLE} ${MIDDLE})`);
      if (number.current) number.current.textContent = String(frame).padStart(2, '0');
    };
    move(player.frame);
    return player.onFrame(move);
  }, [player, length]);
  const tip = MIDDLE - RIM + 8;
  return (
    <>
      <g ref={hand} className="dial-hand">
        <path
          d={`M${MIDDLE - 5} ${MIDDLE - HUB + 2}C${MIDDLE - 7.5} ${MIDDLE - 52} ${MIDDLE - 4} ${tip + 24} ${MIDDLE - 6} ${tip + 8}A6 6 0 0 1 ${MIDDLE + 6} ${tip + 8}C${MIDDLE + 4} ${tip + 24} ${MIDDLE + 7.5} ${MIDDLE - 52} ${MIDDLE + 5} ${MIDDLE - HUB + 2}`}
        />
      </g>
      <circle cx={MIDDLE} cy={MIDDLE} r={HUB} className="dial-hub" />
      <text ref={number} className="dial-frame" x={MIDDLE} y={MIDDLE + 2} textAnchor="middle" />
      <text className="dial-of" x={MIDDLE} y={MIDDLE + 15} textAnchor="middle">
        of {length}
      </text>
    </>
  );
}
