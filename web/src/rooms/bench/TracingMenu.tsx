import { useRef, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { bringInPictures, type Clip, type ClipEdit, type Tracing } from '../../api/clips';
import { FieldLine, NumberBox, Tick } from '../../app/controls';
import { counted } from '../../app/counted';
import { useNotices } from '../../app/notices';
import { type Orbit, VIEWS, type ViewName } from '../../stage/camera';
import { isUnder } from '../../stage/underlay';
import { withBenchKey } from './benchKeys';

interface TracingMenuProps {
  readonly clip: Clip;
  readonly orbit: Orbit;
  readonly shown: boolean;
  readonly onShown: (shown: boolean) => void;
  readonly onOrbit: (orbit: Orbit) => void;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
}

const ACCEPTED = 'image/png,image/jpeg';

/** The name of a view, where it has one. */
const nameOf = (laid: { yaw: number; pitch: number }): ViewName | undefined =>
  (Object.keys(VIEWS) as ViewName[]).find((name) => isUnder(VIEWS[name], laid));

/** Lay pictures under the stage as a tracing reference: how they lie, and from which frame on. */
export function TracingMenu(props: TracingMenuProps) {
  const { clip, orbit, shown, onShown, onOrbit, onEdit, onPreview } = props;
  const { tracing } = clip.bench;
  const lay = useLayPictures(clip, orbit, onEdit);
  const [opacity, setOpacity] = useState<number | null>(null);
  const chosen = useRef<HTMLInputElement>(null);
  const off = !clip.may_change;
  const set = (part: Partial<Tracing>) => onEdit({ kind: 'set_tracing', ...part });
  const withOpacity = (percent: number): ClipEdit => ({
    kind: 'set_tracing',
    opacity: percent / 100,
  });
  const view = { yaw: tracing?.yaw_degrees ?? 0, pitch: tracing?.pitch_degrees ?? 0 };
  const isHere = isUnder(orbit, view);
  return (
    <Dropdown align="end" autoClose="outside">
      <Dropdown.Toggle
        bsPrefix="icon-button"
        as="button"
        aria-label={withBenchKey('Tracing picture under the stage', 'tracing')}
        title={withBenchKey('Tracing picture under the stage', 'tracing')}
      >
        <i className={`bi bi-${tracing ? 'card-image' : 'image'}`} aria-hidden="true" />
      </Dropdown.Toggle>
      <Dropdown.Menu popperConfig={{ strategy: 'fixed' }} className="ghost-menu tracing-menu">
        {!tracing && (
          <p className="quiet">
            A PNG or JPEG to trace, or a numbered run of them. You can also drop them on the stage.
          </p>
        )}
        {tracing && (
          <>
            <Tick
              label={
                tracing.pictures.length === 1
                  ? 'Show the picture'
                  : `Show the ${tracing.pictures.length} pictures`
              }
              hint={withBenchKey('Show the tracing picture', 'tracing')}
              checked={shown}
              onChange={onShown}
            />
            <FieldLine name="Opacity">
              <span className="pair">
                <input
                  type="range"
                  className="form-range"
                  aria-label="Opacity of the tracing, in percent"
                  min={0}
                  max={100}
                  value={opacity ?? Math.round(tracing.opacity * 100)}
                  disabled={off}
                  onChange={(event) => {
                    const percent = Number(event.target.value);
                    setOpacity(percent);
                    onPreview(withOpacity(percent));
                  }}
                  onPointerUp={keepOpacity}
                  onKeyUp={(event) => event.key === 'Enter' && keepOpacity()}
                  onBlur={keepOpacity}
                />
                <span className="number">{opacity ?? Math.round(tracing.opacity * 100)} %</span>
              </span>
            </FieldLine>
            <FieldLine name="Height">
              <NumberBox
                label="Height of the picture in metres"
                value={tracing.height_metres}
                decimals={2}
                unit="m"
                smallest={0.01}
                disabled={off}
                onCommit={(height_metres) => set({ height_metres })}
              />
            </FieldLine>
            <FieldLine name="Lies at">
              <span className="pair">
                <NumberBox
                  label="Picture to the right, in metres"
                  value={tracing.right_metres}
                  decimals={2}
                  unit="m right"
                  disabled={off}
                  onCommit={(right_metres) => set({ right_metres })}
                />
                <NumberBox
                  label="Picture up, in metres"
                  value={tracing.up_metres}
                  decimals={2}
                  unit="m up"
                  disabled={off}
                  onCommit={(up_metres) => set({ up_metres })}
                />
              </span>
            </FieldLine>
            <FieldLine name="From frame">
              <NumberBox
                label="First frame of the tracing"
                value={tracing.first_frame}
                disabled={off}
                onCommit={(frame) => set({ first_frame: Math.round(frame) })}
              />
            </FieldLine>
            {tracing.pictures.length > 1 && (
              <FieldLine name="Each for">
                <NumberBox
                  label="Frames that each picture shows"
                  value={tracing.frames_each}
                  smallest={1}
                  unit="fr"
                  disabled={off}
                  onCommit={(frames) => set({ frames_each: Math.round(frames) })}
                />
              </FieldLine>
            )}
            <FieldLine name="Under">
              <span className="pair">
                <button
                  type="button"
                  className="btn btn-paper"
                  disabled={isHere}
                  title="Look from where it lies"
                  onClick={() => onOrbit({ ...orbit, ...view })}
                >
                  {nameOf(view) ?? 'a view of its own'}
                </button>
                {!isHere && !off && (
                  <button
                    type="button"
                    className="btn btn-paper"
                    onClick={() => set({ yaw_degrees: orbit.yaw, pitch_degrees: orbit.pitch })}
                  >
                    Lay it under this view
                  </button>
                )}
              </span>
            </FieldLine>
          </>
        )}
        {!off && (
          <div className="close-line">
            <input
              ref={chosen}
              type="file"
              hidden
              multiple
              accept={ACCEPTED}
              data-testid="tracing-files"
              onChange={(event) => {
                void lay.bringIn([...(event.target.files ?? [])]);
                event.target.value = '';
              }}
            />
            <button
              type="button"
              className="btn btn-paper"
              disabled={lay.coming !== null}
              onClick={() => chosen.current?.click()}
            >
              {lay.coming ?? (tracing ? 'Other pictures' : 'Choose pictures')}
            </button>
            {tracing && (
              <button
                type="button"
                className="btn btn-paper"
                onClick={() => onEdit({ kind: 'remove_tracing' })}
              >
                Take it away
              </button>
            )}
          </div>
        )}
      </Dropdown.Menu>
    </Dropdown>
  );

  function keepOpacity() {
    const edit = opacity === null ? null : withOpacity(opacity);
    if (edit) onEdit(edit);
    setOpacity(null);
  }
}

/** Bring pictures in, in the order of their names, and lay them under the view. */
export function useLayPictures(clip: Clip, orbit: Orbit, onEdit: (edit: ClipEdit) => void) {
  const notices = useNotices();
  const [coming, setComing] = useState<string | null>(null);
  const bringIn = async (files: readonly File[]) => {
    if (!files.length || !clip.may_change) return;
    const inOrder = [...files].sort((a, b) =>
      a.name.localeCompare(b.name, undefined, { numeric: true }),
    );
    try {
      const pictures = await bringInPictures(clip.production, inOrder, (count) =>
        setComing(`${count} of ${counted(inOrder.length, 'picture')} …`),
      );
      const known = clip.bench.tracing;
      const laid = { yaw_degrees: orbit.yaw, pitch_degrees: orbit.pitch };
      onEdit({ kind: 'set_tracing', ...(known ? {} : laid), pictures });
    } catch (problem) {
      notices.trouble(problem);
    }
    setComing(null);
  };
  return { coming, bringIn };
}
