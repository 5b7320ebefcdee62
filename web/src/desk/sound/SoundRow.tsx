import { type KeyboardEvent, memo, useMemo } from 'react';
import { usePeaks } from '../../api/sounds';
import { IconButton } from '../../app/controls';
import type { LaidHead } from '../../player/laidHead';
import { OwnTimeMark } from '../OwnTimeMark';
import { LABEL_WIDTH, type Scale, xOf } from '../scale';
import type { Sound, SoundLane } from '../selection';
import type { SoundActions, SoundGrip } from './soundHands';
import { gainOf, wavePath } from './wave';

export const SOUND_HEIGHT = 44;

interface SoundRowProps {
  readonly lane: SoundLane;
  readonly scale: Scale;
  readonly firstFrame: number;
  readonly framesPerSecond: number;
  readonly chosen: string | null;
  readonly isChosen: boolean;
  readonly isTarget: boolean;
  readonly mayChange: boolean;
  readonly head: LaidHead;
  readonly actions: SoundActions;
}

/** A sound lane: its name and whose time it goes by, and its sounds as they swing. */
export const SoundRow = memo(function SoundRow(props: SoundRowProps) {
  const { lane, scale, isChosen, isTarget, mayChange, head, actions } = props;
  const keys = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    actions.chooseLane(lane);
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div className="sound-row" data-sound-lane={lane.id} style={{ height: SOUND_HEIGHT }}>
      <div className={`sound-head ${isChosen ? 'is-chosen' : ''} ${lane.muted ? 'is-still' : ''}`}>
        {/* biome-ignore lint/a11y/useSemanticElements: a head beside its switch, with a button's role and keys */}
        <div
          className="names"
          role="button"
          tabIndex={0}
          aria-pressed={isChosen}
          aria-label={`Sound lane ${lane.name}`}
          onClick={() => actions.chooseLane(lane)}
          onKeyDown={keys}
        >
          <b className="clipped">{lane.name}</b>
          <span className="clipped">
            {lane.keeps_own_time ? 'own time' : 'by the scene’s time'}
            {lane.level_db !== 0 && ` ${signed(lane.level_db)} dB`}
          </span>
        </div>
        <IconButton
          icon={lane.muted ? 'volume-mute' : 'volume-up'}
          label={`${lane.name}: ${lane.muted ? 'let it be heard' : 'mute'}`}
          className={`lane-switch ${lane.muted ? 'is-on' : ''}`}
          pressed={lane.muted}
          disabled={!mayChange}
          onClick={() => actions.muteLane(lane)}
        />
      </div>
      {lane.keeps_own_time && !head.isStraight && (
        <OwnTimeMark head={head} scale={scale} firstFrame={props.firstFrame} />
      )}
      {/* biome-ignore lint/a11y/useSemanticElements: a drawn row, with a group's role */}
      <svg
        width={scale.width}
        height={SOUND_HEIGHT}
        role="group"
        aria-label={`${lane.name}: ${lane.sounds.length} sounds`}
      >
        <clipPath id={`clip-${lane.id}`}>
          <rect x={LABEL_WIDTH - 1} width={scale.width} height={SOUND_HEIGHT} />
        </clipPath>
        <rect
          className={`lane-bed ${isTarget ? 'is-target' : ''}`}
          x={LABEL_WIDTH - 1}
          width={scale.width}
          height={SOUND_HEIGHT}
          fill="transparent"
        />
        <g clipPath={`url(#clip-${lane.id})`}>
          {lane.sounds.map((sound) => (
            <LaidSound key={sound.id} {...props} sound={sound} />
          ))}
        </g>
      </svg>
    </div>
  );
});

const signed = (level: number): string => `${level > 0 ? '+' : '−'}${Math.abs(level)}`;

const TOP = 3;
const GRIP = 7;
const BOX = SOUND_HEIGHT - 2 * TOP;
const LABEL_ROOM = 60;

function LaidSound(props: SoundRowProps & { readonly sound: Sound }) {
  const { lane, sound, scale, firstFrame, framesPerSecond, chosen, mayChange, actions } = props;
  const peaks = usePeaks(sound.sound).data;
  const [left, right] = [xOf(scale, sound.start), xOf(scale, sound.end)];
  const width = right - left;
  const secondsAPixel = 1 / (framesPerSecond * scale.pixelsPerFrame);
  const wave = useMemo(
    () =>
      peaks
        ? wavePath(peaks, {
            left: Math.max(left, LABEL_WIDTH - 2),
            right: Math.min(right, scale.width),
            secondsAtZero: sound.in_seconds - left * secondsAPixel,
            secondsAPixel,
            middle: SOUND_HEIGHT / 2,
            halfHeight: BOX / 2 - 2,
            gainAt: gainOf({ ...sound, level_db: sound.level_db + lane.level_db }),
          })
        : '',
    [peaks, left, right, scale.width, sound, lane.level_db, secondsAPixel],
  );
  const isChosen = chosen === sound.id;
  const [fadeIn, fadeOut] = [sound.fade_in_seconds, sound.fade_out_seconds].map(
    (seconds) => seconds / secondsAPixel,
  );
  const told = `Sound ${sound.name}, from ${at(sound.start + firstFrame)}, ${sound.seconds.toFixed(2)} s`;
  const press = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    actions.choose(sound);
    event.preventDefault();
    event.stopPropagation();
  };
  const grip = (which: SoundGrip, x: number, wide: number) => (
    <rect
      className="sound-grip"
      x={x}
      y={TOP}
      width={wide}
      height={BOX}
      onPointerDown={(event) => actions.grab(event, lane, sound, which)}
    />
  );
  const knob = (which: 'fadeIn' | 'fadeOut', x: number) => (
    <circle
      className="fade-knob"
      cx={x}
      cy={TOP + 5}
      r="4.5"
      onPointerDown={(event) => actions.grab(event, lane, sound, which)}
    >
      <title>{which === 'fadeIn' ? 'Draw to fade in' : 'Draw to fade out'}</title>
    </circle>
  );
  if (right < LABEL_WIDTH || left > scale.width) return null;
  const shownLeft = Math.max(left, LABEL_WIDTH);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a sound drawn in SVG, with a button's role and keys
    <g
      className={`laid-sound ${isChosen ? 'is-chosen' : ''} ${sound.muted || lane.muted ? 'is-still' : ''}`}
      data-sound={sound.id}
      role="button"
      tabIndex={0}
      aria-pressed={isChosen}
      aria-label={told}
      onKeyDown={press}
      onPointerDown={(event) => actions.grab(event, lane, sound, 'body')}
    >
      <title>{`${sound.name}. Draw to move it; with Alt to the sample`}</title>
      <rect className="sound-bed" x={left} y={TOP} width={width} height={BOX} />
      <path className="wave" d={wave} />
      {fadeIn > 0 && (
        <path className="sound-fade" d={`M${left} ${TOP + BOX}L${left + fadeIn} ${TOP}`} />
      )}
      {fadeOut > 0 && (
        <path className="sound-fade" d={`M${right - fadeOut} ${TOP}L${right} ${TOP + BOX}`} />
      )}
      {right - shownLeft > LABEL_ROOM && (
        <>
          <text className="sound-name" x={shownLeft + (isChosen ? 24 : 12)} y={TOP + 11}>
            {sound.name}
            {sound.muted && ' (muted)'}
          </text>
          {isChosen && (
            <text className="sound-place" x={shownLeft + 12} y={TOP + BOX - 4}>
              {at(sound.start + firstFrame)} fr,{' '}
              {Math.round((1000 * sound.start) / framesPerSecond)} ms
            </text>
          )}
        </>
      )}
      {mayChange && width > 3 * GRIP && (
        <>
          {grip('start', left - 1, GRIP)}
          {grip('end', right - GRIP + 1, GRIP)}
          {isChosen && knob('fadeIn', left + Math.max(fadeIn, GRIP + 4))}
          {isChosen && knob('fadeOut', right - Math.max(fadeOut, GRIP + 4))}
        </>
      )}
    </g>
  );
}

/** A moment in frames, with what lies between two of them where there is something. */
const at = (frame: number): string => String(Math.round(frame * 100) / 100);
