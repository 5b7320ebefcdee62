import { useState } from 'react';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { withBenchKey } from '../benchKeys';
import type { CardProps } from './card';

/** Length, rate, exposure, travel and halves. */
export function CycleCard({ clip, player, snap, onSnap, onEdit }: CardProps) {
  const { bench } = clip;
  const [how, setHow] = useState<'fit' | 'trim'>('fit');
  const [keep, setKeep] = useState<'seconds' | 'frames'>('seconds');
  const off = !clip.may_change;
  const exposure = bench.exposure.join(', ');
  return (
    <>
      <FieldLine name="Length">
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
      </FieldLine>
      <FieldLine name="Rate">
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
      </FieldLine>
      <FieldLine name="Exposure">
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
      </FieldLine>
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
          <FieldLine name="Stride">
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
          </FieldLine>
        </>
      )}
      <FieldLine name="Root and pelvis">
        <button
          type="button"
          className="link-button number"
          title="Go to the frame where they are farthest apart"
          onClick={() => player.goTo(bench.root_apart_at % bench.length_frames)}
        >
          {bench.root_apart_cm.toFixed(1)} cm apart at {bench.root_apart_at}
        </button>
      </FieldLine>
      <Tick
        label="Keys land on whole frames"
        hint={withBenchKey('Moved and scaled keys are snapped', 'snap')}
        checked={snap}
        onChange={onSnap}
      />
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
            title="The travel goes where the pelvis goes, and the motion stays"
            onClick={() => onEdit({ kind: 'lay_root' })}
          >
            Lay the root under
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
