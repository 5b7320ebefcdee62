import type { KeyboardEvent, PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { LABEL_WIDTH, type Scale, xOf } from './scale';

type CameraKey = Schemas['DeskCameraKey'];

export interface CameraActions {
  readonly chooseCamera: (key: CameraKey | null) => void;
  readonly grabKey: (event: PointerEvent, key: CameraKey) => void;
  readonly nudgeKey: (key: CameraKey, frames: number) => void;
  readonly removeKey: (key: CameraKey) => void;
}

interface CameraRowProps {
  readonly camera: Schemas['DeskCamera'];
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly isChosen: boolean;
  readonly chosenKey: number | null;
  readonly mayChange: boolean;
  readonly actions: CameraActions;
}

const CAMERA_HEIGHT = 28;

/** The camera’s keys: upright ticks, with a bar where it is held up to the next one. */
export function CameraRow(props: CameraRowProps) {
  const { camera, scale, firstFrame, isChosen, chosenKey, mayChange, actions } = props;
  const { keys } = camera;
  const middle = CAMERA_HEIGHT / 2;
  return (
    <div className="camera-row">
      <button
        type="button"
        className={`camera-head ${isChosen ? 'is-chosen' : ''}`}
        aria-pressed={isChosen}
        onClick={() => actions.chooseCamera(null)}
      >
        <b>Camera</b> {camera.exposure.said}
        {camera.keeps_own_time && ' own time'}
      </button>
      {/* biome-ignore lint/a11y/useSemanticElements: a drawn row, with a group's role */}
      <svg
        width={scale.width}
        height={CAMERA_HEIGHT}
        role="group"
        aria-label={`Camera: ${keys.length} keys`}
      >
        <clipPath id="clip-camera">
          <rect x={LABEL_WIDTH - 1} width={scale.width} height={CAMERA_HEIGHT} />
        </clipPath>
        <g clipPath="url(#clip-camera)">
          <path className="camera-line" d={`M${LABEL_WIDTH} ${middle}H${scale.width}`} />
          {keys.map((key, place) => {
            const x = xOf(scale, key.frame + 0.5);
            const after = keys[place + 1];
            const press = (event: KeyboardEvent) => {
              const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
              if (event.key === 'Enter' || event.key === ' ') actions.chooseCamera(key);
              else if (event.altKey && way && mayChange) actions.nudgeKey(key, way);
              else if ((event.key === 'Delete' || event.key === 'Backspace') && mayChange)
                actions.removeKey(key);
              else return;
              event.preventDefault();
              event.stopPropagation();
            };
            return (
              // biome-ignore lint/a11y/useSemanticElements: a key drawn in SVG, with a button's role and keys
              <g
                key={key.frame}
                className={`camera-key ${chosenKey === key.frame ? 'is-chosen' : ''}`}
                role="button"
                tabIndex={0}
                aria-pressed={chosenKey === key.frame}
                aria-label={`Camera key at ${Math.round(key.frame + firstFrame)}`}
                onPointerDown={(event) => actions.grabKey(event, key)}
                onKeyDown={press}
              >
                {after && key.span === 'hold' && (
                  <path
                    className="held"
                    d={`M${x} ${middle + 6}H${xOf(scale, after.frame + 0.5)}`}
                  />
                )}
                <rect x={x - 6} y="2" width="12" height={CAMERA_HEIGHT - 4} />
                <path d={`M${x} 6V${CAMERA_HEIGHT - 6}`} />
              </g>
            );
          })}
        </g>
      </svg>
    </div>
  );
}
