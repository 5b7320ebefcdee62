import { useQuery } from '@tanstack/react-query';
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type Chosen, type Clip, type ClipEdit, readTraces } from '../../api/clips';
import { Choice, IconButton, Tick } from '../../app/controls';
import { startDraw } from '../../app/drawing';
import type { Player } from '../../player/player';
import { AMBER, SHEET } from '../../stage/colour';
import { sharp } from '../../stage/sharp';
import { withBenchKey } from './benchKeys';
import { BeyondChoice, ChosenKey, SpanChoice } from './CurveControls';
import {
  along,
  BOTTOM,
  type FrameWindow,
  frameUnder,
  INKS,
  keyUnder,
  LEFT,
  limitsOf,
  nearer,
  nearestKey,
  type OneKey,
  onlyOne,
  paintGrid,
  paintKeys,
  paintSlopes,
  paintTrace,
  slopeUnder,
  TOP,
  type View,
  xAt,
  yAt,
} from './curvePicture';
import { KINDS, type Kind } from './kinds';
import { countOf } from './sheet';

interface CurvesProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joints: readonly string[];
  readonly keys: Chosen;
  readonly preview: ClipEdit | null;
  readonly rates: boolean;
  readonly onRates: (shown: boolean) => void;
  /** The frames that are seen; none: the cycle and a part of the next. */
  readonly framed: FrameWindow | null;
  readonly onFramed: (window: FrameWindow | null) => void;
  readonly onFrameKeys: () => void;
  readonly onKeys: (keys: Chosen) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onEdit: (edit: ClipEdit) => void;
}

const MOST_CURVES = INKS.length;
const BEFORE = 0.08;
const AFTER = 0.42;

/** The chosen joints' curves, as the core computes them; the next round drawn faded. */
export function Curves(props: CurvesProps) {
  const { clip, player, joints, keys, preview, rates, framed, onFramed } = props;
  const { onKeys, onPreview, onEdit } = props;
  const { bench } = clip;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [kind, setKind] = useState<Kind>('turn');
  const length = bench.length_frames;
  const curves = useMemo(() => {
    const known = new Set(joints);
    const own = bench.curves.filter((curve) => known.has(curve.joint));
    const first = [kind, ...KINDS].find((other) => own.some((curve) => curve.kind === other));
    return own.filter((curve) => curve.kind === first).slice(0, MOST_CURVES);
  }, [bench.curves, joints, kind]);
  const channels = curves.map((curve) => curve.channel);
  const [start, end] = [-Math.ceil(length * BEFORE), Math.ceil(length * (1 + AFTER))];
  const traces = useQuery({
    queryKey: ['traces', clip.content, channels, start, end],
    enabled: channels.length > 0,
    placeholderData: (before) => before,
    queryFn: () => readTraces(clip, channels, start, end, preview),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const shown = useMemo(
    () => (traces.data ?? []).filter((trace) => channels.includes(trace.channel)),
    [traces.data, channels],
  );
  const chosenKey = useMemo(() => onlyOne(curves, keys), [curves, keys]);
  const whole = useMemo(() => ({ start, end }), [start, end]);
  const seen = framed ?? whole;
  const limits = useMemo(() => limitsOf(shown, seen), [shown, seen]);

  const viewNow = useCallback((): View | null => {
    const element = canvas.current;
    if (!element || !limits) return null;
    return { ...seen, ...limits, width: element.clientWidth, height: element.clientHeight };
  }, [limits, seen]);

  const paint = useCallback(() => {
    const drawn = sharp(canvas.current, { alpha: false });
    if (!drawn) return;
    const { context, width, height } = drawn;
    context.fillStyle = SHEET;
    context.fillRect(0, 0, width, height);
    const view = viewNow();
    if (!view) return;
    paintGrid(context, view, shown[0]?.unit ?? 'degrees', length);
    context.save();
    context.beginPath();
    context.rect(LEFT - 6, 0, width, height);
    context.clip();
    shown.forEach((trace) => {
      const ink = INKS[channels.indexOf(trace.channel) % INKS.length];
      paintTrace(context, view, trace, ink, length, false);
      if (rates) paintTrace(context, view, trace, ink, length, true);
      const curve = curves.find((other) => other.channel === trace.channel);
      if (curve) paintKeys(context, view, curve, ink, keys, length);
    });
    if (chosenKey) paintSlopes(context, view, chosenKey, length);
    const x = xAt(view, player.frame);
    context.fillStyle = AMBER;
    context.fillRect(x - 0.9, 0, 1.8, height);
    context.restore();
  }, [viewNow, shown, channels, rates, curves, keys, chosenKey, player, length]);
  useEffect(paint, [paint]);
  useEffect(() => player.onFrame(paint), [player, paint]);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(paint);
    observer.observe(element);
    return () => observer.disconnect();
  }, [paint]);

  useEffect(() => {
    const element = canvas.current;
    if (!element) return undefined;
    const wheel = (event: WheelEvent) => {
      const view = viewNow();
      if (!view || !(event.ctrlKey || event.metaKey || event.shiftKey || event.deltaX)) return;
      event.preventDefault();
      if (event.ctrlKey || event.metaKey) {
        const about = frameUnder(view, event.clientX - element.getBoundingClientRect().left);
        onFramed(nearer(seen, whole, about, 1.0018 ** -event.deltaY));
        return;
      }
      const frames = (event.deltaX || event.deltaY) * ((seen.end - seen.start) / view.width);
      onFramed(along(seen, whole, frames));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [viewNow, seen, whole, onFramed]);

  const press = (event: PointerEvent<HTMLCanvasElement>) => {
    const view = viewNow();
    const at = canvas.current?.getBoundingClientRect();
    if (!view || !at || event.button !== 0) return;
    const [x, y] = [event.clientX - at.left, event.clientY - at.top];
    const perFrame = (view.width - LEFT) / (view.end - view.start);
    const perValue = (view.height - TOP - BOTTOM) / (view.high - view.low);
    const slope = chosenKey && clip.may_change ? slopeUnder(view, chosenKey, x, y) : null;
    if (slope && chosenKey) {
      const { key, curve } = chosenKey;
      const editOf = (dx: number, dy: number): ClipEdit => {
        const along = slope.x + dx - xAt(view, key.time);
        const up = yAt(view, key.value) - (slope.y + dy);
        const value = along === 0 ? 0 : up / perValue / (along / perFrame);
        return {
          kind: 'set_key',
          channel: curve.channel,
          time: key.time,
          [slope.side]: value,
        } as ClipEdit;
      };
      drawEdit(event, editOf, onPreview, onEdit);
      return;
    }
    const hit = keyUnder(view, curves, x, y);
    if (!hit) {
      player.pause();
      const frame = frameUnder(view, x);
      player.goTo(((Math.round(frame) % length) + length) % length);
      return;
    }
    const several = hit.key.own && isAmong(keys, hit) && countOf(keys) > 1;
    if (several && clip.may_change) {
      // Many keys at once are drawn in value; in time they are drawn on the key sheet.
      const chosen = Object.fromEntries(Object.entries(keys).map(([k, v]) => [k, [...v]]));
      drawEdit(
        event,
        (_dx, dy) => ({ kind: 'shift_values', chosen, by: -dy / perValue }),
        onPreview,
        onEdit,
        () => onKeys({ [hit.curve.channel]: [hit.key.time] }),
      );
      return;
    }
    onKeys({ [hit.curve.channel]: [hit.key.time] });
    if (!clip.may_change || !hit.key.own) return;
    const editOf = (dx: number, dy: number): ClipEdit => {
      const sideways = Math.abs(dx) > Math.abs(dy) * 2;
      const upright = Math.abs(dy) > Math.abs(dx) * 2;
      return {
        kind: 'set_key',
        channel: hit.curve.channel,
        time: hit.key.time,
        value: sideways ? hit.key.value : hit.key.value - dy / perValue,
        new_time: upright ? hit.key.time : hit.key.time + Math.round(dx / perFrame),
      };
    };
    drawEdit(event, editOf, onPreview, onEdit);
  };

  return (
    <section className="curves" aria-label="Curves">
      <div className="curves-bar">
        <Choice<Kind>
          label="Curves of"
          value={kind}
          onChange={setKind}
          options={KINDS.map((value) => ({ value, text: value }))}
        />
        <Tick
          label="Speed"
          hint="The rate of change, dashed"
          checked={rates}
          onChange={props.onRates}
        />
        <IconButton
          icon="aspect-ratio"
          label={withBenchKey('Frame the chosen keys, or all', 'frameKeys')}
          pressed={framed !== null}
          onClick={props.onFrameKeys}
        />
        {curves.length > 0 && (
          <BeyondChoice curves={curves} mayChange={clip.may_change} onEdit={onEdit} />
        )}
      </div>
      {/* Always there, so that a key does not move away under the hand that presses it. */}
      <div className="curves-bar">
        {chosenKey && <ChosenKey chosen={chosenKey} mayChange={clip.may_change} onEdit={onEdit} />}
        {countOf(keys) > 0 ? (
          <SpanChoice
            keys={keys}
            curves={bench.curves}
            mayChange={clip.may_change}
            onEdit={onEdit}
          />
        ) : (
          <span className="quiet">No key is chosen: press one, or draw a box on the sheet.</span>
        )}
      </div>
      <div className="curves-picture">
        <canvas
          ref={canvas}
          className="curves-canvas"
          role="img"
          aria-label={`Curves: ${curves.map((curve) => curve.label).join(', ') || 'none'}`}
          onPointerDown={press}
        />
        <div className="curve-names">
          {curves.map((curve, place) => (
            <button
              key={curve.channel}
              type="button"
              style={{ color: INKS[place] }}
              title="Choose its key at the playhead, or the nearest"
              onClick={() => {
                const key = nearestKey(curve, player.frame);
                if (key) onKeys({ [curve.channel]: [key.time] });
              }}
            >
              {curve.label}
            </button>
          ))}
        </div>
        {!curves.length && (
          <p className="quiet curves-empty">
            Choose a joint that has keys: its curves are drawn here.
          </p>
        )}
      </div>
    </section>
  );
}

function drawEdit(
  event: PointerEvent,
  editOf: (dx: number, dy: number) => ClipEdit,
  onPreview: (edit: ClipEdit | null) => void,
  onEdit: (edit: ClipEdit) => void,
  onPress = () => {},
): void {
  startDraw(event.clientX, event.clientY, {
    onMove: (dx, dy) => onPreview(editOf(dx, dy)),
    onDrop: (dx, dy) => onEdit(editOf(dx, dy)),
    onPress,
    onCancel: () => onPreview(null),
  });
}

const isAmong = (keys: Chosen, { curve, key }: OneKey): boolean =>
  keys[curve.channel]?.includes(key.time) ?? false;
