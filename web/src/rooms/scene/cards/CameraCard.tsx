import type { Schemas } from '../../../api/client';
import { CardHead } from '../../../app/CardHead';
import { Choice, FieldLine, NumberBox, Tick } from '../../../app/controls';
import { useFrame } from '../../../player/useFrame';
import type { Framing } from '../useFraming';
import type { CardProps } from './card';
import { HoldField, PlaceField, SpanField } from './KeyedFields';

interface CameraCardProps extends CardProps {
  readonly camera: Schemas['DeskCamera'];
  readonly chosen: number | null;
  readonly framing: Framing;
}

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
            <PlaceField
              name="Stands at"
              place={key.eye}
              disabled={locked}
              onPlace={(eye) => set({ eye })}
            />
            <PlaceField
              name="Looks at"
              place={key.look}
              disabled={locked}
              onPlace={(look) => set({ look })}
            />
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
            <SpanField
              span={key.span}
              disabled={locked}
              onSpan={(span) => onEdit({ kind: 'set_camera_key', frame: key.frame, span })}
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
        <HoldField
          label="How long each of the camera’s frames stays"
          exposure={camera.exposure}
          disabled={locked}
          onHold={(frames) => onEdit({ kind: 'set_camera', pattern: [frames] })}
        />
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
