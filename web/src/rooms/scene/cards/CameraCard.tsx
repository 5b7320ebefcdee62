import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { useFrame } from '../../../player/useFrame';
import type { Framing } from '../useFraming';
import type { CardProps } from './card';

interface CameraCardProps extends CardProps {
  readonly camera: Schemas['DeskCamera'];
  readonly chosen: number | null;
  readonly framing: Framing;
}

type Span = Schemas['DeskCameraKey']['span'];
export const SPANS: readonly { readonly value: Span; readonly text: string }[] = [
  { value: 'eased', text: 'eased' },
  { value: 'even', text: 'even' },
  { value: 'hold', text: 'held' },
];
const AXES = ['x', 'y', 'z'] as const;
export const HOLDS = [
  ['1', 'on ones'],
  ['2', 'on twos'],
  ['3', 'on threes'],
] as const;

/** The scene’s camera: keyed as it is seen, at the playhead. */
export function CameraCard(props: CameraCardProps) {
  const { scene, desk, head, camera, chosen, framing, onEdit, onSelect } = props;
  const locked = !scene.may_change;
  const first = desk.first_frame;
  const playhead = useFrame(head);
  const key = camera.keys.find(({ frame }) => frame === chosen);
  const set = (part: Partial<Pick<Schemas['KeyCamera'], 'eye' | 'look' | 'roll' | 'zoom'>>) => {
    if (!key) return;
    const { frame, eye, look, roll, zoom } = key;
    onEdit({ kind: 'key_camera', frame, eye, look, roll, zoom, ...part });
  };
  const triple = (name: 'eye' | 'look', said: string) =>
    key && (
      <FieldLine name={said}>
        <span className="pair">
          {AXES.map((axis, place) => (
            <NumberBox
              key={axis}
              label={`${said}, ${axis}`}
              value={key[name][place]}
              decimals={2}
              disabled={locked}
              onCommit={(value) => {
                const to = key[name].map((old, k) => (k === place ? value : old));
                set({ [name]: to as unknown as [number, number, number] });
              }}
            />
          ))}
        </span>
      </FieldLine>
    );
  return (
    <aside className="side" aria-label="Camera">
      <CardHead title="Camera" onClose={() => onSelect(null)} />
      <div className="body">
        <p className="quiet">
          {framing.isThrough
            ? 'While this card is open, drawing on the stage keys the camera at the playhead: it goes round what it looks at, with Shift along.'
            : 'Look through it to frame by hand; or key what you see now.'}
        </p>
        {!locked && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              aria-pressed={framing.isThrough}
              onClick={framing.lookThrough}
            >
              {framing.isThrough ? 'Step away' : 'Look through'}
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title="A key at the playhead, where you look from"
              onClick={framing.keyThisView}
            >
              Key this view
            </button>
          </div>
        )}
        {key ? (
          <>
            <h3>
              Its key <em>at {Math.round(key.frame + first)}</em>
            </h3>
            {triple('eye', 'Stands at')}
            {triple('look', 'Looks at')}
            <FieldLine name="Zoom">
              <NumberBox
                label="Zoom in percent; 100 is the house lens"
                value={key.zoom * 100}
                unit="%"
                smallest={5}
                largest={2000}
                disabled={locked}
                onCommit={(value) => set({ zoom: value / 100 })}
              />
            </FieldLine>
            <FieldLine name="Roll">
              <NumberBox
                label="Roll in degrees"
                value={key.roll}
                decimals={1}
                unit="°"
                disabled={locked}
                onCommit={(roll) => set({ roll })}
              />
            </FieldLine>
            <Choice<Span>
              label="How it goes on to the next key"
              value={key.span}
              disabled={locked}
              onChange={(span) => onEdit({ kind: 'set_camera_key', frame: key.frame, span })}
              options={SPANS}
            />
            {!locked && (
              <button
                type="button"
                className="btn btn-paper"
                title="Delete, on the key"
                onClick={() => onEdit({ kind: 'remove_camera_key', frame: key.frame })}
              >
                Delete the key
              </button>
            )}
          </>
        ) : (
          <p className="quiet">
            {camera.keys.length} {camera.keys.length === 1 ? 'key' : 'keys'}; the playhead is at{' '}
            {playhead + first}. Press a key on the desk for its numbers.
          </p>
        )}
        <hr className="hairline" />
        <Choice<'look' | 'angle'>
          label="How it aims"
          value={camera.aim}
          disabled={locked}
          onChange={(aim) => onEdit({ kind: 'set_camera', aim })}
          options={[
            { value: 'look', text: 'at a point', hint: 'Between keys the point goes over' },
            { value: 'angle', text: 'by angles', hint: 'Between keys pan and tilt go over' },
          ]}
        />
        <FieldLine name="Exposure">
          <select
            className="form-select"
            aria-label="How long each of the camera’s frames stays"
            disabled={locked}
            value={String(camera.exposure.pattern[0])}
            onChange={({ target }) =>
              onEdit({ kind: 'set_camera', pattern: [Number(target.value)] })
            }
          >
            {HOLDS.map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
          </select>
        </FieldLine>
        <Tick
          label="Own time"
          hint="The scene’s elastic passes it by"
          checked={camera.keeps_own_time}
          disabled={locked}
          onChange={(keeps_own_time) => onEdit({ kind: 'set_camera', keeps_own_time })}
        />
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            onClick={() => {
              onEdit({ kind: 'remove_camera' });
              onSelect(null);
            }}
          >
            Take the camera away
          </button>
        )}
      </div>
    </aside>
  );
}
