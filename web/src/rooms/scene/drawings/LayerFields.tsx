import type { Schemas } from '../../../api/client';
import { Choice, FieldLine, IconButton, NumberBox, Tick } from '../../../app/controls';
import { heldAt } from '../../../player/heldAt';
import { useFrame } from '../../../player/useFrame';
import { LayerRide } from './LayerRide';
import type { LayerFieldsProps } from './layerFieldsProps';

type Stands = NonNullable<Schemas['Layer']['stands']>;

const STANDS: readonly { readonly value: Stands; readonly text: string; readonly hint: string }[] =
  [
    { value: 'card', text: 'a card', hint: 'It stands on the stage, among the figures' },
    {
      value: 'behind',
      text: 'behind all',
      hint: 'It stands on the stage, and is painted under all',
    },
    { value: 'overlay', text: 'over the picture', hint: 'Before all, and with no camera' },
    { value: 'under', text: 'under it', hint: 'A reference under all, with no camera' },
  ];

const SWITCHES = [
  { which: 'faces_camera', text: 'Faces the camera', hint: 'It turns about its pegs' },
  { which: 'mirrored', text: 'Mirrored', hint: 'Left is right' },
  { which: 'repeats', text: 'Repeats sideways', hint: 'Sheet by sheet, to both sides' },
  {
    which: 'steps',
    text: 'Steps with them',
    hint: 'It moves only when its drawing changes. Off: it goes along on ones',
  },
] as const;

/** How a layer of drawings stands: where, how high, how much of it shows, and on what it rides. */
export function LayerFields({ desk, head, layer, disabled, onEdit }: LayerFieldsProps) {
  const set = (part: Partial<Schemas['SetLayer']>) =>
    onEdit({ ...NOTHING, ...part, layer: layer.id });
  const [x, y, z] = layer.place ?? [0, 0, 0];
  const stands = layer.stands ?? 'card';
  const isOverlay = stands === 'overlay' || stands === 'under';
  const unit = isOverlay ? 'of the picture' : 'm';
  const rides = (layer.attachments ?? []).length > 0;
  return (
    <section aria-label="How it stands">
      <h3>It stands as</h3>
      <Choice<Stands>
        label="How it stands"
        className="segment is-wide"
        options={STANDS}
        value={stands}
        disabled={disabled}
        onChange={(wanted) => set({ stands: wanted })}
      />
      <FieldLine name="Height">
        <NumberBox
          label="Height of its sheets"
          value={layer.height_metres ?? 1}
          decimals={2}
          unit={unit}
          smallest={0.01}
          largest={10_000}
          disabled={disabled}
          onCommit={(height_metres) => set({ height_metres })}
        />
      </FieldLine>
      {!rides && (
        <FieldLine name="Pegs at">
          <span className="pair">
            {(isOverlay ? [x, y] : [x, y, z]).map((value, axis) => (
              <NumberBox
                // biome-ignore lint/suspicious/noArrayIndexKey: an axis is its place
                key={axis}
                label={`Pegs, ${'xyz'[axis]}`}
                value={value}
                decimals={2}
                disabled={disabled}
                onCommit={(to) => {
                  const place: [number, number, number] = [x, y, z];
                  place[axis] = to;
                  set({ place });
                }}
              />
            ))}
          </span>
        </FieldLine>
      )}
      {!isOverlay && !layer.faces_camera && (
        <FieldLine name="Heading">
          <NumberBox
            label="Heading of the card"
            value={layer.heading_degrees ?? 0}
            unit="°"
            disabled={disabled}
            onCommit={(heading_degrees) => set({ heading_degrees })}
          />
        </FieldLine>
      )}
      <div className="tick-grid">
        {SWITCHES.map(({ which, text, hint }) => (
          <Tick
            key={which}
            label={text}
            hint={hint}
            checked={layer[which] ?? false}
            disabled={disabled}
            onChange={(on) => set({ [which]: on })}
          />
        ))}
      </div>
      <OpacityField desk={desk} head={head} layer={layer} disabled={disabled} onEdit={onEdit} />
      {!isOverlay && (
        <LayerRide desk={desk} head={head} layer={layer} disabled={disabled} onEdit={onEdit} />
      )}
    </section>
  );
}

const NOTHING: Schemas['SetLayer'] = {
  kind: 'set_layer',
  layer: '',
  name: null,
  stands: null,
  place: null,
  heading_degrees: null,
  height_metres: null,
  mirrored: null,
  faces_camera: null,
  repeats: null,
  steps: null,
};

/** How much of it shows, keyed at the playhead. */
function OpacityField({ desk, head, layer, disabled, onEdit }: LayerFieldsProps) {
  const frame = Math.round(useFrame(head));
  const keys = desk.opacity_keys[layer.id] ?? [];
  const here = keys.find((key) => key.frame === frame);
  const before = heldAt(keys, frame) ?? keys[0];
  const value = Math.round(100 * (here ?? before ?? { opacity: 1 }).opacity);
  const key = (opacity: number | null, at = frame) =>
    onEdit({ kind: 'key_opacity', layer: layer.id, frame: at, opacity });
  return (
    <>
      <FieldLine name={here ? 'Opacity here' : 'Key opacity'}>
        <NumberBox
          label="Opacity at the playhead"
          value={value}
          unit="%"
          smallest={0}
          largest={100}
          disabled={disabled}
          onCommit={(percent) => key(percent / 100)}
        />
      </FieldLine>
      {keys.length > 0 && (
        <ul className="plain-list">
          {keys.map((one) => (
            <li key={one.frame}>
              <span>
                <b className="number">{Math.round(100 * one.opacity)} %</b> at{' '}
                <span className="number">{one.frame + desk.first_frame}</span>
              </span>
              {!disabled && (
                <IconButton
                  icon="x"
                  label={`Delete the opacity key at ${one.frame + desk.first_frame}`}
                  onClick={() => key(null, one.frame)}
                />
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
