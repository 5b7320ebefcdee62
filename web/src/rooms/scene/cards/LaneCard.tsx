import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { ColourChoice } from '../../../app/ColourChoice';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import { choosing } from '../../../desk/selection';
import { LayerFields } from '../drawings/LayerFields';
import type { FixOptions } from '../useFixing';
import { AddFixLane } from './AddFixLane';
import type { CardProps } from './card';
import { ExposureField } from './ExposureField';
import { JointExposures } from './JointExposures';
import { LaneFixes } from './LaneFixes';
import { LaneMask } from './LaneMask';

const SWITCHES = [
  { which: 'muted', text: 'Muted', hint: 'It does not play', action: 'mute' },
  { which: 'soloed', text: 'Solo', hint: 'Only soloed lanes play', action: 'solo' },
  { which: 'locked', text: 'Locked', hint: 'Its stints stay as they are', action: 'lock' },
  {
    which: 'keeps_own_time',
    text: 'Own time',
    hint: 'The scene’s elastic passes it by',
    action: null,
  },
  { which: 'folded', text: 'Folded', hint: 'It lies low on the desk', action: 'fold' },
] as const;

const LAYER_GAPS = [
  { value: 'rest', text: 'shows nothing', hint: 'No drawing where it has no stint (X)' },
  { value: 'hold', text: 'holds', hint: 'The last drawing stays (X)' },
  { value: 'wait', text: 'waits', hint: 'In the next stint’s first drawing (X)' },
] as const;

export interface LaneCardProps extends CardProps {
  readonly lane: Schemas['DeskLane'];
  readonly fixOptions: FixOptions;
  readonly onFixOptions: (options: FixOptions) => void;
}

/** A lane: its name and colour, what plays in its gaps or what it corrects, and its switches. */
export function LaneCard(props: LaneCardProps) {
  const { scene, desk, lane, onEdit, onSelect } = props;
  const mayChange = scene.may_change;
  const { target } = lane;
  const layer =
    target.kind === 'layer' ? desk.layers.find(({ id }) => id === target.layer) : undefined;
  const place = desk.lanes.findIndex((other) => other.id === lane.id);
  const move = (to: number) => onEdit({ kind: 'move_lane', lane: lane.id, place: to });
  return (
    <aside className="side" aria-label={`Lane: ${lane.name}`}>
      <CardHead
        title={`${lane.figure_name}, ${lane.name}`}
        colour={lane.colour}
        onClose={() => onSelect(null)}
      />
      <div className="body">
        <NameField
          label="Name"
          value={lane.name}
          disabled={!mayChange}
          onCommit={(name) => onEdit({ kind: 'set_lane', lane: lane.id, name })}
        />
        <ColourChoice
          label="Colour of the lane"
          value={lane.colour}
          disabled={!mayChange}
          onChange={(colour) => onEdit({ kind: 'set_lane', lane: lane.id, colour })}
        />
        {layer && (
          <LayerFields
            desk={desk}
            head={props.head}
            layer={layer}
            disabled={!mayChange}
            onEdit={onEdit}
          />
        )}
        {lane.fixes ? (
          <LaneFixes
            lane={lane}
            fixes={lane.fixes}
            desk={desk}
            head={props.head}
            options={props.fixOptions}
            onOptions={props.onFixOptions}
            onSelect={onSelect}
            disabled={!mayChange}
          />
        ) : (
          <h3>In its gaps</h3>
        )}
        {lane.fixes ? null : lane.lies_over ? (
          <p className="quiet">
            This lane lies over another of {lane.figure_name}’s: where it has no stint, the lane
            below shows.
          </p>
        ) : (
          <Choice
            label={`In gaps ${lane.figure_name}`}
            value={lane.gap}
            disabled={!mayChange}
            onChange={(gap) => onEdit({ kind: 'set_lane', lane: lane.id, gap })}
            options={
              layer
                ? LAYER_GAPS
                : [
                    { value: 'rest', text: 'rests', hint: 'The rest pose, where it stands (X)' },
                    { value: 'hold', text: 'holds', hint: 'The last pose goes on (X)' },
                    { value: 'wait', text: 'waits', hint: 'In the next stint’s first pose (X)' },
                    {
                      value: 'ease',
                      text: 'eases',
                      hint: 'From the last pose into the next one’s first (X)',
                    },
                  ]
            }
          />
        )}
        {lane.gaps.some((gap) => gap.rule === 'ease') && (
          <FieldLine name="Eases over">
            <NumberBox
              label="Frames at the end of a gap over which the figure eases"
              value={lane.ease_frames}
              unit="fr"
              smallest={1}
              disabled={!mayChange}
              onCommit={(ease_frames) => onEdit({ kind: 'set_lane', lane: lane.id, ease_frames })}
            />
          </FieldLine>
        )}
        {lane.lies_over && !lane.fixes && (
          <LaneMask
            lane={lane}
            figure={desk.figures.find((other) => other.id === lane.figure)?.figure ?? ''}
            disabled={!mayChange}
            onEdit={onEdit}
          />
        )}
        <ExposureField
          name="Exposure"
          of={{ lane: lane.id }}
          exposure={lane.exposure}
          above={lane.exposure.is_own ? 'as the scene' : `as the scene, ${lane.exposure.said}`}
          desk={desk}
          disabled={!mayChange}
          onEdit={onEdit}
        />
        {!lane.fixes && lane.target.kind === 'body' && (
          <ExposureField
            name="Its place"
            of={{ lane: lane.id, place: true }}
            exposure={lane.place_exposure}
            above="as its poses"
            desk={desk}
            disabled={!mayChange}
            onEdit={onEdit}
          />
        )}
        {!lane.fixes && lane.figure && (
          <JointExposures
            lane={lane}
            figure={desk.figures.find((other) => other.id === lane.figure)?.figure ?? ''}
            disabled={!mayChange}
            onEdit={onEdit}
          />
        )}
        <div className="tick-grid">
          {SWITCHES.map(({ which, text, hint, action }) => (
            <Tick
              key={which}
              label={text}
              hint={action ? withKey(hint, action) : hint}
              checked={lane[which]}
              disabled={!mayChange}
              onChange={(on) => onEdit({ kind: 'set_lane', lane: lane.id, [which]: on })}
            />
          ))}
        </div>
        {!lane.fixes && (
          <button
            type="button"
            className="btn btn-paper"
            disabled={!lane.stints.length}
            onClick={() => onSelect(choosing(lane.stints.map((stint) => stint.id)))}
          >
            Choose its {counted(lane.stints.length, 'stint')}
          </button>
        )}
        {lane.figure && (
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => onSelect({ kind: 'figure', id: lane.figure })}
          >
            {lane.figure_name}, the figure
          </button>
        )}
        {mayChange && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              title="Alt up, on the lane’s head"
              disabled={place === 0}
              onClick={() => move(place - 1)}
            >
              Up
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title="Alt down, on the lane’s head"
              disabled={place === desk.lanes.length - 1}
              onClick={() => move(place + 1)}
            >
              Down
            </button>
            {lane.figure && (
              <>
                <button
                  type="button"
                  className="btn btn-paper"
                  title={withKey('Another lane over this figure’s', 'addLane')}
                  onClick={() => onEdit({ kind: 'add_lane', figure: lane.figure })}
                >
                  Add a lane
                </button>
                <AddFixLane figure={lane.figure} onEdit={onEdit} />
              </>
            )}
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Delete', 'remove')}
              onClick={() => onEdit({ kind: 'remove_lane', lane: lane.id })}
            >
              Delete
            </button>
          </div>
        )}
      </div>
    </aside>
  );
}
