import { useRef } from 'react';
import { SOUND_ENDINGS, type SoundCard } from '../../../api/sounds';
import { IconButton } from '../../../app/controls';
import { Name } from '../../../app/Name';
import { WaveStrip } from '../../../app/WaveStrip';
import { DrawerSection } from '../DrawerSection';
import { FlyingName } from '../FlyingName';
import { type Flight, useFlight } from '../useFlight';
import type { SoundToLay } from './useSounds';

interface ListProps extends Flight<SoundToLay> {
  readonly sounds: readonly SoundCard[];
  readonly mayChange: boolean;
  readonly fresh: (sound: SoundCard) => SoundToLay;
  /** Without a mouse: lay it at the playhead. */
  readonly onPlace: (sound: SoundToLay) => void;
  readonly onFiles: (files: readonly File[]) => void;
}

/** The production’s sounds, to be drawn down onto the desk as clips are. */
export function SoundList(props: ListProps) {
  const { sounds, mayChange, fresh, onPlace, onFiles } = props;
  const { flying, grab } = useFlight(props);
  const picker = useRef<HTMLInputElement>(null);
  return (
    <DrawerSection
      name="Sounds"
      count={sounds.length}
      tools={
        mayChange && (
          <IconButton
            icon="plus-lg"
            label="Bring in a sound, and lay it at the playhead"
            onClick={() => picker.current?.click()}
          />
        )
      }
    >
      <input
        ref={picker}
        type="file"
        accept={`audio/*,${SOUND_ENDINGS}`}
        multiple
        hidden
        data-testid="sound-file"
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      {sounds.length === 0 && (
        <p className="quiet p-3">
          No sounds yet. Drop one on the desk: WAV, AIFF, FLAC, OGG, MP3, M4A.
        </p>
      )}
      <ul className="clips">
        {sounds.map((sound) => (
          <li key={sound.id}>
            {/* biome-ignore lint/a11y/useSemanticElements: a card that is dragged, with a button's role and keys */}
            <div
              className="slip clip is-pressable"
              role="button"
              tabIndex={0}
              aria-label={`${sound.name}, ${sound.length_seconds.toFixed(1)} s. Drag it to the desk; Enter lays it at the playhead.`}
              onPointerDown={(event) => mayChange && grab(event, fresh(sound))}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' || !mayChange) return;
                event.stopPropagation();
                onPlace(fresh(sound));
              }}
            >
              <span className="line">
                <Name className="name" text={sound.name} />
                <span className="length number">{sound.length_seconds.toFixed(1)} s</span>
              </span>
              <WaveStrip
                sound={sound.id}
                seconds={sound.length_seconds}
                label={`${sound.name}, as it swings`}
              />
            </div>
          </li>
        ))}
      </ul>
      {flying && <FlyingName at={flying} name={flying.what.sound.name} />}
    </DrawerSection>
  );
}
