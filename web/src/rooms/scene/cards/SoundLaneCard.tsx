import { CardHead } from '../../../app/CardHead';
import { Choice, Tick } from '../../../app/controls';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import type { SoundLane } from '../../../desk/selection';
import type { CardProps } from './card';
import { LevelField } from './LevelField';

/** A sound lane: its name, how loud it is, and whose time it goes by. */
export function SoundLaneCard(props: CardProps & { readonly lane: SoundLane }) {
  const { scene, lane, onEdit, onSelect } = props;
  const locked = !scene.may_change;
  const set = { kind: 'set_sound_lane', lane: lane.id } as const;
  return (
    <aside className="side" aria-label={`Sound lane: ${lane.name}`}>
      <CardHead title={lane.name} onClose={() => onSelect(null)} />
      <div className="body">
        <NameField
          label="Name"
          value={lane.name}
          disabled={locked}
          onCommit={(name) => onEdit({ ...set, name })}
        />
        <LevelField
          of="the lane"
          level={lane.level_db}
          disabled={locked}
          onLevel={(level_db) => onEdit({ ...set, level_db })}
        />
        <Tick
          label="Muted"
          hint={withKey('It is not heard', 'mute')}
          checked={lane.muted}
          disabled={locked}
          onChange={(muted) => onEdit({ ...set, muted })}
        />
        <h3>Under the scene’s elastic</h3>
        <Choice<'own' | 'scene'>
          label="Whose time it goes by"
          value={lane.keeps_own_time ? 'own' : 'scene'}
          disabled={locked}
          onChange={(by) => onEdit({ ...set, keeps_own_time: by === 'own' })}
          options={[
            { value: 'own', text: 'own time', hint: 'It sounds as it was recorded' },
            { value: 'scene', text: 'by the scene’s', hint: 'Stretched, with its pitch kept' },
          ]}
        />
        <p className="quiet">
          {lane.keeps_own_time
            ? 'It lies by played frames and sounds as it was recorded, whatever the scene’s time does.'
            : 'It lies by laid frames and is stretched with the scene, its pitch kept. Where time stands, turns back or runs at under 10 % it is silent.'}
        </p>
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            title={withKey('Delete', 'remove')}
            onClick={() => onEdit({ kind: 'remove_sound_lane', lane: lane.id })}
          >
            Delete
          </button>
        )}
      </div>
    </aside>
  );
}
