import type { KeyboardEvent } from 'react';
import type { Schemas } from '../api/client';
import type { LaidHead } from '../player/laidHead';
import type { KeyActions, KeysOf } from './keyHands';
import { OwnTimeMark } from './OwnTimeMark';
import { LABEL_WIDTH, type Scale, xOf } from './scale';

interface KeysRowProps {
  readonly of: KeysOf;
  readonly name: string;
  readonly row: {
    readonly keys: readonly { readonly frame: number; readonly span: string }[];
    readonly exposure: Schemas['DeskExposure'];
    readonly keeps_own_time: boolean;
  };
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly head: LaidHead;
  readonly isChosen: boolean;
  readonly chosenKey: number | null;
  readonly mayChange: boolean;
  readonly actions: KeyActions;
}

export const KEYS_HEIGHT = 28;

/** The keys of the camera or of a guide: upright ticks, with a bar where it is held up to the next one. */
export function KeysRow(props: KeysRowProps) {
  const { of, name, row, scale, firstFrame, head, isChosen, chosenKey, mayChange, actions } = props;
  const { keys } = row;
  const middle = KEYS_HEIGHT / 2;
  const clip = `clip-keys-${of ?? 'camera'}`;
  return (
    <div className={`keys-row ${of === null ? 'is-camera' : 'is-guide'}`}>
      <button
        type="button"
        className={`keys-head ${isChosen ? 'is-chosen' : ''}`}
        aria-pressed={isChosen}
        title={`${name} ${row.exposure.said}`}
        onClick={() => actions.chooseKey(of, null)}
      >
        <b>{name}</b> {row.exposure.said}
        {row.keeps_own_time && ' own time'}
      </button>
      {row.keeps_own_time && !head.isStraight && (
        <OwnTimeMark head={head} scale={scale} firstFrame={firstFrame} />
      )}
      {/* biome-ignore lint/a11y/useSemanticElements: a drawn row, with a group's role */}
      <svg
        width={scale.width}
        height={KEYS_HEIGHT}
        role="group"
        aria-label={`${name}: ${keys.length} keys`}
      >
        <clipPath id={clip}>
          <rect x={LABEL_WIDTH - 1} width={scale.width} height={KEYS_HEIGHT} />
        </clipPath>
        <g clipPath={`url(#${clip})`}>
          <path className="keys-line" d={`M${LABEL_WIDTH} ${middle}H${scale.width}`} />
          {keys.map((key, place) => {
            const x = xOf(scale, key.frame + 0.5);
            const after = keys[place + 1];
            const press = (event: KeyboardEvent) => {
              const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
              if (event.key === 'Enter' || event.key === ' ') actions.chooseKey(of, key.frame);
              else if (event.altKey && way && mayChange) actions.nudgeKey(of, key.frame, way);
              else if ((event.key === 'Delete' || event.key === 'Backspace') && mayChange)
                actions.removeKey(of, key.frame);
              else return;
              event.preventDefault();
              event.stopPropagation();
            };
            return (
              // biome-ignore lint/a11y/useSemanticElements: a key drawn in SVG, with a button's role and keys
              <g
                key={key.frame}
                className={`row-key ${chosenKey === key.frame ? 'is-chosen' : ''}`}
                role="button"
                tabIndex={0}
                aria-pressed={chosenKey === key.frame}
                aria-label={`${name} key at ${Math.round(key.frame + firstFrame)}`}
                onPointerDown={(event) => actions.grabKey(event, of, key.frame)}
                onKeyDown={press}
              >
                {after && key.span === 'hold' && (
                  <path
                    className="held"
                    d={`M${x} ${middle + 6}H${xOf(scale, after.frame + 0.5)}`}
                  />
                )}
                <rect x={x - 6} y="2" width="12" height={KEYS_HEIGHT - 4} />
                <path d={`M${x} 6V${KEYS_HEIGHT - 6}`} />
              </g>
            );
          })}
        </g>
      </svg>
    </div>
  );
}
