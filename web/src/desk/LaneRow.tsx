import type { KeyboardEvent, PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { type Scale, xOf } from './scale';
import { cyclesText, outlineOf, path, pinOf, scarf } from './stintShape';

type Lane = Schemas['DeskLane'];
type Stint = Schemas['DeskStint'];
type Join = Schemas['DeskJoin'];

export type Selection =
  | { readonly kind: 'stint'; readonly id: string }
  | { readonly kind: 'join'; readonly incoming: string };

export type Grip = 'body' | 'start' | 'end';

export interface LaneActions {
  readonly select: (selection: Selection) => void;
  readonly grab: (event: PointerEvent, stint: Stint, grip: Grip) => void;
  readonly nudge: (stint: Stint, grip: Grip, frames: number) => void;
  readonly remove: (stint: Stint) => void;
}

interface LaneRowProps {
  readonly lane: Lane;
  readonly scale: Scale;
  readonly height: number;
  readonly firstFrame: number;
  readonly selection: Selection | null;
  readonly isTarget: boolean;
  readonly actions: LaneActions;
}

const PAD = 4;
const HANDLE = 8;

export function LaneRow(props: LaneRowProps) {
  const { lane, scale, height, firstFrame, selection, isTarget, actions } = props;
  const cardHeight = height - 2 * PAD;
  const chosen = selection?.kind === 'stint' ? selection.id : null;
  return (
    // biome-ignore lint/a11y/useSemanticElements: a drawn row, with a group's role
    <svg
      width={scale.width}
      height={height}
      data-lane={lane.id}
      role="group"
      aria-label={`${lane.figure_name}, ${lane.name}: ${lane.stints.length} stints`}
    >
      <rect
        className={`lane-bed ${isTarget ? 'is-target' : ''}`}
        width={scale.width}
        height={height}
        fill="transparent"
      />
      <path d={`M0 ${height - 0.5}H${scale.width}`} stroke="var(--rule-soft)" />
      <text className="desk-label is-name" x="12" y={height / 2 - 3}>
        {lane.figure_name}
      </text>
      <text className="desk-label is-sub" x="22" y={height / 2 + 13}>
        {lane.name}
      </text>
      <clipPath id={`clip-${lane.id}`}>
        <rect x={xOf(scale, scale.start) - 1} width={scale.width} height={height} />
      </clipPath>
      <g clipPath={`url(#clip-${lane.id})`}>
        <g transform={`translate(0 ${PAD})`}>
          {lane.gaps.map((gap) => (
            <Gap key={gap.start} gap={gap} rule={lane.gap} scale={scale} height={cardHeight} />
          ))}
          {lane.stints.map((stint) => (
            <StintCard
              key={stint.id}
              stint={stint}
              into={lane.joins.find((join) => join.incoming === stint.id)}
              out={lane.joins.find((join) => join.outgoing === stint.id)}
              scale={scale}
              height={cardHeight}
              firstFrame={firstFrame}
              chosen={stint.id === chosen}
              actions={actions}
            />
          ))}
          {lane.joins.map((join) => (
            <JoinLine
              key={join.incoming}
              join={join}
              lane={lane}
              scale={scale}
              height={cardHeight}
              chosen={selection?.kind === 'join' && selection.incoming === join.incoming}
              onSelect={() => actions.select({ kind: 'join', incoming: join.incoming })}
            />
          ))}
        </g>
      </g>
    </svg>
  );
}

const GAP_WORDS = { rest: 'rests', hold: 'holds', wait: 'waits' } as const;

interface GapProps {
  readonly gap: Schemas['DeskGap'];
  readonly rule: Lane['gap'];
  readonly scale: Scale;
  readonly height: number;
}

function Gap({ gap, rule, scale, height }: GapProps) {
  const x = xOf(scale, gap.start);
  const width = xOf(scale, gap.end) - x;
  return (
    <g>
      <path
        d={`M${x + 3} ${height / 2}H${x + width - 3}`}
        stroke="var(--rule-strong)"
        strokeDasharray="3 4"
      />
      {width > 60 && (
        <text
          className="desk-label is-sub"
          x={x + width / 2}
          y={height / 2 - 5}
          textAnchor="middle"
        >
          {GAP_WORDS[rule]}
        </text>
      )}
    </g>
  );
}

interface StintCardProps {
  readonly stint: Stint;
  readonly into: Join | undefined;
  readonly out: Join | undefined;
  readonly scale: Scale;
  readonly height: number;
  readonly firstFrame: number;
  readonly chosen: boolean;
  readonly actions: LaneActions;
}

function StintCard(props: StintCardProps) {
  const { stint, into, out, scale, height, firstFrame, chosen, actions } = props;
  const outline = outlineOf(scale, stint, height, into, out);
  const colour = `var(--${stint.colour})`;
  const start = xOf(scale, stint.start);
  const end = xOf(scale, stint.end);
  const name = stint.cycles === null ? stint.name : `${stint.name}, ${cyclesText(stint.cycles)}`;
  const shown = `${Math.round(stint.start) + firstFrame} to ${Math.round(stint.end) - 1 + firstFrame}`;
  const textX = Math.max(into ? xOf(scale, into.end) + 3 : start + 8, xOf(scale, scale.start) + 4);

  const keys = (event: KeyboardEvent) => {
    if (event.key === 'Enter') actions.select({ kind: 'stint', id: stint.id });
    else if (event.key === 'Delete' || event.key === 'Backspace') actions.remove(stint);
    else if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
      const frames = event.key === 'ArrowLeft' ? -1 : 1;
      actions.nudge(stint, event.shiftKey ? 'end' : 'body', frames);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    // biome-ignore lint/a11y/useSemanticElements: a card drawn in SVG, with a button's role and keys
    <g
      className={`stint ${chosen ? 'is-chosen' : ''}`}
      role="button"
      tabIndex={0}
      aria-label={`${name}, frames ${shown}`}
      aria-pressed={chosen}
      data-stint={stint.id}
      onPointerDown={(event) => actions.grab(event, stint, 'body')}
      onKeyDown={keys}
    >
      <clipPath id={`card-${stint.id}`}>
        <path d={outline} />
      </clipPath>
      <path d={outline} fill="var(--sheet)" />
      <path d={outline} fill={`url(#pencil-${stint.colour})`} />
      <g clipPath={`url(#card-${stint.id})`}>
        {stint.cycle_starts.map((moment) => (
          <Seam key={moment} x={xOf(scale, moment)} height={height} colour={colour} />
        ))}
        {stint.plants.map((plant) => (
          <PlantBar
            key={`${plant.side}${plant.start}`}
            plant={plant}
            scale={scale}
            height={height}
          />
        ))}
      </g>
      <path
        className="card"
        d={outline}
        fill="none"
        stroke={chosen ? 'var(--ink)' : colour}
        strokeWidth={chosen ? 1.9 : 1.2}
        strokeLinejoin="round"
      />
      <text className="halo" x={textX} y="14" clipPath={`url(#card-${stint.id})`}>
        {name}
        {Math.abs(stint.pace - 1) > 0.005 && ` at ${Math.round(stint.pace * 100)} %`}
      </text>
      <rect
        className="edge-handle"
        data-grip="start"
        x={start - 1}
        width={HANDLE}
        height={into ? height / 2 : height}
        onPointerDown={(event) => actions.grab(event, stint, 'start')}
      />
      <rect
        className="edge-handle"
        data-grip="end"
        x={end - HANDLE + 1}
        y={out ? height / 2 : 0}
        width={HANDLE}
        height={out ? height / 2 : height}
        onPointerDown={(event) => actions.grab(event, stint, 'end')}
      />
    </g>
  );
}

/** Where a cycle comes round: a row of small cross-stitches. */
function Seam({ x, height, colour }: { x: number; height: number; colour: string }) {
  const stitches: string[] = [];
  for (let y = 20; y < height - 3; y += 7) {
    stitches.push(`M${x - 2} ${y}l4 4M${x + 2} ${y}l-4 4`);
  }
  return <path d={stitches.join('')} stroke={colour} strokeWidth="1.1" strokeLinecap="round" />;
}

interface PlantBarProps {
  readonly plant: Schemas['DeskPlant'];
  readonly scale: Scale;
  readonly height: number;
}

/** A foot on the ground: left is solid blue, right is hatched red. */
function PlantBar({ plant, scale, height }: PlantBarProps) {
  const x = xOf(scale, plant.start);
  const width = Math.max(1, xOf(scale, plant.end) - x);
  if (plant.side === 'right') {
    return (
      <rect
        x={x + 0.5}
        y={height - 8}
        width={Math.max(1, width - 1)}
        height="4"
        fill="url(#hatch-right)"
        stroke="var(--after)"
        strokeWidth="0.9"
      />
    );
  }
  return <rect x={x} y={height - 15} width={width} height="4.5" fill="var(--before)" />;
}

interface JoinLineProps {
  readonly join: Join;
  readonly lane: Lane;
  readonly scale: Scale;
  readonly height: number;
  readonly chosen: boolean;
  readonly onSelect: () => void;
}

function JoinLine({ join, lane, scale, height, chosen, onSelect }: JoinLineProps) {
  const cut = path([
    [xOf(scale, join.start), 0],
    ...scarf(scale, join, height),
    [xOf(scale, join.end), height],
  ]);
  const [x, y] = pinOf(scale, join, height);
  const nameOf = (id: string) => lane.stints.find((stint) => stint.id === id)?.name ?? '';
  return (
    // biome-ignore lint/a11y/useSemanticElements: a joint drawn in SVG, with a button's role and keys
    <g
      className="join-line"
      role="button"
      tabIndex={0}
      aria-label={`Join ${nameOf(join.outgoing)} to ${nameOf(join.incoming)}, ${Math.round(join.end - join.start)} frames`}
      aria-pressed={chosen}
      data-join={join.incoming}
      onClick={onSelect}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.stopPropagation();
        onSelect();
      }}
    >
      {chosen && (
        <>
          <path d={cut} fill="none" stroke="var(--sheet)" strokeWidth="6.5" />
          <path d={cut} fill="none" stroke="var(--lamp)" strokeWidth="4.6" strokeLinejoin="round" />
        </>
      )}
      <path
        className="wood"
        d={cut}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="1.5"
        strokeLinejoin="round"
      />
      <circle cx={x} cy={y} r="8" fill="transparent" />
      <circle cx={x} cy={y} r="4.2" fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.5" />
      <circle cx={x} cy={y} r="1.5" fill="var(--ink)" />
    </g>
  );
}
