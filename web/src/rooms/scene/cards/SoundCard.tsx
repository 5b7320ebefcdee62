import { newId } from '../../../api/newId';
import { CardHead } from '../../../app/CardHead';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import type { Sound, SoundLane } from '../../../desk/selection';
import { useFrame } from '../../../player/useFrame';
import type { CardProps } from './card';
import { LevelField } from './LevelField';
import { SoundVoice } from './SoundVoice';

interface SoundCardProps extends CardProps {
  readonly lane: SoundLane;
  readonly sound: Sound;
}

/** A sound as it lies: where, to the sample; how much of it, how loud, and how it comes and goes. */
export function SoundCard({ scene, desk, head, lane, sound, onEdit, onSelect }: SoundCardProps) {
  const locked = !scene.may_change;
  const { first_frame: first, frames_per_second: perSecond } = desk;
  const laid = sound.id;
  const own = head.on(lane);
  const frame = useFrame(own);
  const isUnder = frame > sound.start && frame < sound.end;
  const fade = (which: 'fade_in_seconds' | 'fade_out_seconds', said: string) => (
    <FieldLine name={said}>
      <NumberBox
        label={`${said}, in seconds`}
        value={sound[which]}
        decimals={2}
        unit="s"
        smallest={0}
        largest={sound.seconds}
        disabled={locked}
        onCommit={(seconds) => onEdit({ kind: 'set_sound', laid, [which]: seconds })}
      />
    </FieldLine>
  );
  return (
    <aside className="side" aria-label={`Sound: ${sound.name}`}>
      <CardHead title={sound.name} onClose={() => onSelect(null)} />
      <div className="body">
        <NameField
          label="Name"
          value={sound.name}
          disabled={locked}
          onCommit={(name) => onEdit({ kind: 'set_sound', laid, name })}
        />
        <SoundVoice scene={scene} desk={desk} lane={lane.id} sound={sound} onEdit={onEdit} />
        <FieldLine name="Starts at">
          <NumberBox
            label="The frame at which it starts"
            value={sound.start + first}
            decimals={3}
            unit="fr"
            disabled={locked}
            onCommit={(value) => onEdit({ kind: 'move_sound', laid, start: value - first })}
          />
        </FieldLine>
        <FieldLine name="in time">
          <NumberBox
            label="Milliseconds from the first frame to its start"
            value={(1000 * sound.start) / perSecond}
            decimals={1}
            unit="ms"
            smallest={0}
            disabled={locked}
            onCommit={(value) =>
              onEdit({ kind: 'move_sound', laid, start: (value / 1000) * perSecond })
            }
          />
        </FieldLine>
        <FieldLine name="Heard">
          <span className="number">
            {sound.in_seconds.toFixed(2)} to {(sound.in_seconds + sound.seconds).toFixed(2)} of{' '}
            {sound.sound_seconds.toFixed(2)} s
          </span>
        </FieldLine>
        <LevelField
          of="it"
          level={sound.level_db}
          disabled={locked}
          onLevel={(level_db) => onEdit({ kind: 'set_sound', laid, level_db })}
        />
        {fade('fade_in_seconds', 'Fades in over')}
        {fade('fade_out_seconds', 'Fades out over')}
        <Tick
          label="Muted"
          hint={withKey('It is not heard', 'mute')}
          checked={sound.muted}
          disabled={locked}
          onChange={(muted) => onEdit({ kind: 'set_sound', laid, muted })}
        />
        <button type="button" className="btn btn-paper" onClick={() => own.goTo(sound.start)}>
          Go there
        </button>
        <button
          type="button"
          className="btn btn-paper"
          onClick={() => onSelect({ kind: 'soundLane', id: lane.id })}
        >
          {lane.name}, its lane
        </button>
        {!locked && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Split at the playhead', 'split')}
              disabled={!isUnder}
              onClick={() => onEdit({ kind: 'split_sound', laid, frame: own.frame, new: newId() })}
            >
              Split
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Again, right after it', 'duplicate')}
              onClick={() => onEdit({ kind: 'duplicate_sound', laid, new: newId() })}
            >
              Duplicate
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Delete', 'remove')}
              onClick={() => onEdit({ kind: 'remove_sound', laid })}
            >
              Delete
            </button>
          </div>
        )}
      </div>
    </aside>
  );
}
