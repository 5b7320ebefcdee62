import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type Clip, type ClipEdit, type Gait, readGaits } from '../../api/clips';
import { Choice, IconButton, NumberBox, Tick } from '../../app/controls';
import { counted } from '../../app/counted';
import type { Player } from '../../player/player';
import type { SideTab } from './benchMemory';
import { UsesCard } from './UsesCard';

interface CardProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joints: readonly string[];
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onJoints: (joints: readonly string[]) => void;
}

const TABS: readonly { readonly value: SideTab; readonly text: string }[] = [
  { value: 'seam', text: 'Seam' },
  { value: 'walk', text: 'Walk' },
  { value: 'feet', text: 'Feet' },
  { value: 'cycle', text: 'Cycle' },
  { value: 'uses', text: 'Uses' },
];

interface SideCardsProps extends CardProps {
  readonly tab: SideTab;
  readonly onTab: (tab: SideTab) => void;
}

export function SideCards({ tab, onTab, ...card }: SideCardsProps) {
  return (
    <section className="bench-cards" aria-label="Cards">
      <Choice<SideTab>
        label="Card"
        className="card-tabs"
        value={tab}
        onChange={onTab}
        options={TABS}
      />
      <div className="body">
        {tab === 'seam' && <SeamCard {...card} />}
        {tab === 'walk' && <WalkCard {...card} />}
        {tab === 'feet' && <FeetCard {...card} />}
        {tab === 'cycle' && <CycleCard {...card} />}
        {tab === 'uses' && <UsesCard clip={card.clip} />}
      </div>
    </section>
  );
}

type Method = 'match' | 'spread' | 'through' | 'overlap';
const METHODS: readonly { readonly value: Method; readonly text: string; readonly hint: string }[] =
  [
    { value: 'match', text: 'match ends', hint: 'The last key takes the first one’s value' },
    { value: 'spread', text: 'spread', hint: 'A smooth offset over the last frames' },
    { value: 'through', text: 'ease through', hint: 'Both ends meet half-way, with one slope' },
    {
      value: 'overlap',
      text: 'overlap',
      hint: 'The last frames blend into what precedes the start',
    },
  ];
const MOST_ROWS = 60;
/** The longest bar stands for this many times the limit of “closed”. */
const FULL_BAR = 6;

/** The seam, joint by joint, worst first; and the ways to close it. */
function SeamCard({ clip, player, onEdit, onPreview, onJoints }: CardProps) {
  const { bench } = clip;
  const [method, setMethod] = useState<Method>('spread');
  const [frames, setFrames] = useState(6);
  const [hold, setHold] = useState(false);
  if (!bench.seam) return <p className="quiet">A clip that plays once has no seam.</p>;
  const reach = Math.max(1, Math.min(frames, Math.floor(bench.length_frames / 2)));
  const edit: ClipEdit = { kind: 'close_seam', method, frames: reach, hold_feet: hold };
  const open = bench.seam.joints.filter((gap) => gap.grade !== 'closed').length;
  return (
    <>
      <p>
        <b className={`grade is-${bench.seam.grade}`}>{bench.seam.grade}</b>, from frame{' '}
        <span className="number">{bench.length_frames - 1}</span> to{' '}
        <span className="number">0</span>
        <span className="quiet">
          {' '}
          · {open ? `${counted(open, 'joint')} to close` : 'every joint meets'}
        </span>
      </p>
      <ul className="gap-list">
        {bench.seam.joints.slice(0, MOST_ROWS).map((gap) => {
          return (
            <li key={gap.joint}>
              <button
                type="button"
                title="Show its curves at the seam"
                onClick={() => {
                  onJoints([gap.joint]);
                  player.pause();
                  player.goTo(0);
                }}
              >
                <span>{gap.label}</span>
                <i className={`gap-bar is-${gap.grade}`}>
                  <i style={{ width: `${Math.min(100, (gap.over / FULL_BAR) * 100)}%` }} />
                </i>
                <span className="number">
                  {gap.gap_degrees.toFixed(1)}° {gap.gap_cm.toFixed(1)} cm{' '}
                  {gap.gap_degrees_per_frame.toFixed(1)}°/f
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      {clip.may_change && (
        <div className="close-line">
          <Choice<Method>
            label="How to close it"
            value={method}
            onChange={setMethod}
            options={METHODS}
          />
          <span className="pair">
            over
            <NumberBox
              label="Frames to close over"
              value={reach}
              smallest={1}
              unit="fr"
              disabled={method === 'match'}
              onCommit={(value) => setFrames(Math.round(value))}
            />
          </span>
          <Tick label="Hold the feet" checked={hold} onChange={setHold} />
          <button
            type="button"
            className="btn btn-lamp"
            onPointerEnter={() => onPreview(edit)}
            onPointerLeave={() => onPreview(null)}
            onFocus={() => onPreview(edit)}
            onBlur={() => onPreview(null)}
            onClick={() => onEdit(edit)}
            title="Point at it to see the change"
          >
            Close
          </button>
        </div>
      )}
    </>
  );
}

const NUMBERS: readonly {
  readonly name: keyof Omit<Gait, 'arms'>;
  readonly label: string;
  readonly unit: string;
  readonly decimals: number;
}[] = [
  { name: 'stride_metres', label: 'Stride', unit: 'm', decimals: 2 },
  { name: 'frames_per_step', label: 'Frames a step', unit: 'fr', decimals: 0 },
  { name: 'bounce_metres', label: 'Bounce', unit: 'm', decimals: 3 },
  { name: 'lean_degrees', label: 'Lean', unit: '°', decimals: 0 },
  { name: 'arm_swing_degrees', label: 'Arm swing', unit: '°', decimals: 0 },
  { name: 'foot_lift_metres', label: 'Foot lift', unit: 'm', decimals: 2 },
  { name: 'hip_turn_degrees', label: 'Hip turn', unit: '°', decimals: 0 },
  { name: 'down_share', label: 'Foot is down', unit: 'of 1', decimals: 2 },
  { name: 'crouch', label: 'Crouch', unit: 'of leg', decimals: 2 },
];

/** The walk starter: a gait's numbers, live on the stage, then kept as ordinary keys. */
function WalkCard({ clip, onEdit, onPreview }: CardProps) {
  const gaits = useQuery({
    queryKey: ['gaits', clip.bench.figure],
    queryFn: () => readGaits(clip.id),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [gait, setGait] = useState<Gait | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  if (!clip.may_change) return <p className="quiet">You can look, and not start a walk.</p>;
  const show = (wanted: Gait, name: string | null) => {
    setGait(wanted);
    setPicked(name);
    onPreview({ kind: 'start_walk', gait: wanted, preset: null });
  };
  return (
    <>
      <div className="gait-names">
        {gaits.data?.map((row) => (
          <button
            key={row.name}
            type="button"
            aria-pressed={picked === row.name}
            className="btn btn-paper"
            onClick={() => show(row.gait, row.name)}
          >
            {row.name}
          </button>
        ))}
      </div>
      {!gait && (
        <p className="quiet">
          Choose a gait: it is shown on the stage, and then its numbers are yours.
        </p>
      )}
      {gait && (
        <>
          <div className="gait-numbers">
            {NUMBERS.map(({ name, label, unit, decimals }) => (
              <div className="field-line" key={name}>
                <span>{label}</span>
                <NumberBox
                  label={label}
                  value={gait[name]}
                  decimals={decimals}
                  unit={unit}
                  onCommit={(value) => show({ ...gait, [name]: value }, null)}
                />
              </div>
            ))}
            <div className="field-line">
              <span>Arms swing</span>
              <select
                className="form-select"
                aria-label="Which arms swing"
                value={gait.arms}
                onChange={(event) =>
                  show({ ...gait, arms: event.target.value as Gait['arms'] }, picked)
                }
              >
                <option value="both">both</option>
                <option value="left">left</option>
                <option value="right">right</option>
                <option value="none">none</option>
              </select>
            </div>
          </div>
          <div className="close-line">
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => {
                setGait(null);
                setPicked(null);
                onPreview(null);
              }}
            >
              Never mind
            </button>
            <button
              type="button"
              className="btn btn-lamp"
              onClick={() => {
                onEdit({ kind: 'start_walk', gait, preset: null });
                setGait(null);
                setPicked(null);
              }}
            >
              Keep as keys
            </button>
          </div>
        </>
      )}
    </>
  );
}

/** Contacts: their frames, their slide, and whether the feet are held. */
function FeetCard({ clip, joints, player, onEdit, onJoints }: CardProps) {
  const { bench } = clip;
  const foot = bench.joints.find((joint) => joints[0] === joint.name);
  const allHeld = bench.plants.length > 0 && bench.plants.every((plant) => plant.held);
  return (
    <>
      {!bench.plants.length && (
        <p className="quiet">
          No contacts yet. Find them, or plant the chosen foot at the playhead.
        </p>
      )}
      <ul className="plant-list">
        {bench.plants.map((plant) => (
          <li key={plant.place}>
            <button
              type="button"
              className="link-button"
              onClick={() => {
                onJoints([plant.joint]);
                player.goTo(Math.floor(plant.start) % bench.length_frames);
              }}
            >
              <i className={`side-mark is-${plant.side}`} /> {plant.label}
            </button>
            <span className="pair">
              <NumberBox
                label={`${plant.label} stands from`}
                value={plant.start}
                disabled={!clip.may_change}
                onCommit={(start) =>
                  onEdit({
                    kind: 'set_plant',
                    place: plant.place,
                    start,
                    end: plant.end,
                    joint: null,
                  })
                }
              />
              to
              <NumberBox
                label={`${plant.label} stands to`}
                value={plant.end}
                disabled={!clip.may_change}
                onCommit={(end) =>
                  onEdit({
                    kind: 'set_plant',
                    place: plant.place,
                    start: plant.start,
                    end,
                    joint: null,
                  })
                }
              />
            </span>
            <span className={`number slide ${plant.slide_cm > 0.5 ? 'is-far' : ''}`}>
              {plant.slide_cm.toFixed(2)} cm
            </span>
            <Tick
              label="held"
              hint="Keep this foot where it stands"
              checked={plant.held}
              disabled={!clip.may_change}
              onChange={(held) => onEdit({ kind: 'hold_feet', held, places: [plant.place] })}
            />
            {clip.may_change && (
              <IconButton
                icon="x"
                label={`Take out the contact of ${plant.label}`}
                onClick={() => onEdit({ kind: 'remove_plant', place: plant.place })}
              />
            )}
          </li>
        ))}
      </ul>
      {clip.may_change && (
        <div className="close-line">
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onEdit({ kind: 'find_contacts' })}
          >
            Find contacts
          </button>
          {foot && (
            <button
              type="button"
              className="btn btn-paper"
              onClick={() =>
                onEdit({
                  kind: 'set_plant',
                  place: bench.plants.length,
                  joint: foot.name,
                  start: player.frame,
                  end: player.frame + Math.max(2, Math.round(bench.length_frames / 4)),
                })
              }
            >
              Plant {foot.label.toLowerCase()}
            </button>
          )}
          {bench.plants.length > 0 && (
            <button
              type="button"
              className="btn btn-lamp"
              onClick={() => onEdit({ kind: 'hold_feet', held: !allHeld, places: null })}
            >
              {allHeld ? 'Let all feet go' : 'Hold all feet'}
            </button>
          )}
        </div>
      )}
    </>
  );
}

/** Length, rate, exposure, travel and halves. */
function CycleCard({ clip, player, onEdit }: CardProps) {
  const { bench } = clip;
  const [how, setHow] = useState<'fit' | 'trim'>('fit');
  const [keep, setKeep] = useState<'seconds' | 'frames'>('seconds');
  const off = !clip.may_change;
  const exposure = bench.exposure.join(', ');
  return (
    <>
      <div className="field-line">
        <span>Length</span>
        <span className="pair">
          <NumberBox
            label="Length in frames"
            value={bench.length_frames}
            unit="fr"
            smallest={1}
            disabled={off}
            onCommit={(value) =>
              onEdit({ kind: 'set_length', length_frames: Math.round(value), how, snap: true })
            }
          />
          <Choice<'fit' | 'trim'>
            label="How the length is set"
            value={how}
            disabled={off}
            onChange={setHow}
            options={[
              { value: 'fit', text: 'fit', hint: 'Every key keeps its share of the time' },
              { value: 'trim', text: 'trim', hint: 'Keys stay; the end moves' },
            ]}
          />
        </span>
      </div>
      <div className="field-line">
        <span>Rate</span>
        <span className="pair">
          <NumberBox
            label="Frames a second"
            value={bench.frames_per_second}
            decimals={3}
            unit="fps"
            smallest={1}
            disabled={off}
            onCommit={(value) =>
              onEdit({ kind: 'set_rate', rate: String(value), keep, snap: true })
            }
          />
          <Choice<'seconds' | 'frames'>
            label="What the rate keeps"
            value={keep}
            disabled={off}
            onChange={setKeep}
            options={[
              { value: 'seconds', text: 'seconds' },
              { value: 'frames', text: 'frames' },
            ]}
          />
        </span>
      </div>
      <div className="field-line">
        <span>Exposure</span>
        <Choice
          label="Exposure"
          value={exposure}
          disabled={off}
          onChange={(value) => onEdit({ kind: 'set_exposure', pattern: [Number(value)] })}
          options={[
            { value: '1', text: 'ones' },
            { value: '2', text: 'twos' },
            { value: '3', text: 'threes' },
          ]}
        />
      </div>
      <Tick
        label="A cycle: the end meets the start"
        checked={bench.is_cycle}
        disabled={off}
        onChange={(is_cycle) => onEdit({ kind: 'set_cycle', is_cycle })}
      />
      {bench.is_cycle && (
        <>
          <Tick
            label="The second half follows the first, mirrored"
            checked={bench.half_linked}
            disabled={off}
            onChange={(linked) => onEdit({ kind: 'link_halves', linked })}
          />
          <Tick
            label="Travels over the ground in scenes"
            checked={bench.travels}
            disabled={off}
            onChange={(travels) => onEdit({ kind: 'set_travels', travels })}
          />
          <div className="field-line">
            <span>Stride</span>
            <span className="pair">
              <NumberBox
                label="Stride in metres"
                value={bench.stride_metres}
                decimals={3}
                unit="m"
                smallest={0}
                disabled={off}
                onCommit={(metres) => onEdit({ kind: 'set_stride', metres })}
              />
              <span className="quiet number">
                {bench.ground_speed_metres_a_second.toFixed(2)} m/s
              </span>
            </span>
          </div>
        </>
      )}
      {!off && (
        <div className="close-line">
          {bench.is_cycle && (
            <button
              type="button"
              className="btn btn-paper"
              onClick={() => onEdit({ kind: 'turn_dial', frames: player.frame })}
            >
              Start on this frame
            </button>
          )}
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onEdit({ kind: 'mirror_clip' })}
          >
            Mirror left and right
          </button>
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onEdit({ kind: 'snap_keys', chosen: null })}
          >
            Snap keys to frames
          </button>
        </div>
      )}
    </>
  );
}
