import { useQuery } from '@tanstack/react-query';
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type Chosen, type Clip, type ClipEdit, readTraces, type Trace } from '../../api/clips';
import { Choice, NumberBox, Tick } from '../../app/controls';
import { startDraw } from '../../app/drawing';
import type { Player } from '../../player/player';
import {
  AFTER_TEXT,
  AMBER,
  GRAPHITE,
  INK,
  NON_PHOTO_BLUE,
  PENCIL_BLUE,
  PLUM,
  RULE_SOFT,
  SHEET,
  VIRIDIAN,
} from '../../stage/colour';
import { sharp } from '../../stage/sharp';
import { withBenchKey } from './benchKeys';
import { KINDS, type Kind, WRITTEN } from './kinds';
import { type BenchCurve, countOf } from './sheet';

interface CurvesProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joints: readonly string[];
  readonly keys: Chosen;
  readonly preview: ClipEdit | null;
  readonly rates: boolean;
  readonly onRates: (shown: boolean) => void;
  readonly onKeys: (keys: Chosen) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onEdit: (edit: ClipEdit) => void;
}

type Beyond = 'hold' | 'repeat' | 'offset' | 'mirror' | 'continue';
type Span = 'hold' | 'even' | 'eased' | 'free';

const INKS = [INK, VIRIDIAN, PLUM, PENCIL_BLUE, AFTER_TEXT, GRAPHITE];
const MOST_CURVES = INKS.length;
const BEFORE = 0.08;
const AFTER = 0.42;
const LEFT = 44;
const TOP = 20;
const BOTTOM = 8;
const REACH = 7;
const HANDLE = 34;

interface View {
  readonly start: number;
  readonly end: number;
  readonly low: number;
  readonly high: number;
  readonly width: number;
  readonly height: number;
}

const xAt = (view: View, frame: number) =>
  LEFT + ((frame - view.start) / (view.end - view.start)) * (view.width - LEFT);
const yAt = (view: View, value: number) =>
  TOP + (1 - (value - view.low) / (view.high - view.low)) * (view.height - TOP - BOTTOM);

/** The chosen joints' curves, as the core computes them; the next round drawn faded. */
export function Curves(props: CurvesProps) {
  const { clip, player, joints, keys, preview, rates, onKeys, onPreview, onEdit } = props;
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
    queryFn: () => readTraces(clip.id, channels, start, end, preview),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const shown = useMemo(
    () => (traces.data ?? []).filter((trace) => channels.includes(trace.channel)),
    [traces.data, channels],
  );
  const chosenKey = useMemo(() => onlyOne(curves, keys), [curves, keys]);
  const limits = useMemo(() => limitsOf(shown), [shown]);

  const viewNow = useCallback((): View | null => {
    const element = canvas.current;
    if (!element || !limits) return null;
    return { start, end, ...limits, width: element.clientWidth, height: element.clientHeight };
  }, [limits, start, end]);

  const paint = useCallback(() => {
    const drawn = sharp(canvas.current, { alpha: false });
    if (!drawn) return;
    const { context, width, height } = drawn;
    context.fillStyle = SHEET;
    context.fillRect(0, 0, width, height);
    const view = viewNow();
    if (!view) return;
    paintGrid(context, view, shown[0]?.unit ?? 'degrees', length);
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
      const frame = view.start + ((x - LEFT) / (view.width - LEFT)) * (view.end - view.start);
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
    drawEdit(event, editOf, onPreview, (edit) => {
      onEdit(edit);
      if (edit.kind === 'set_key' && typeof edit.new_time === 'number')
        onKeys({ [hit.curve.channel]: [edit.new_time] });
    });
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
        {chosenKey && (
          <ChosenKey
            chosen={chosenKey}
            mayChange={clip.may_change}
            onEdit={onEdit}
            onKeys={onKeys}
          />
        )}
        <SpanChoice keys={keys} curves={bench.curves} mayChange={clip.may_change} onEdit={onEdit} />
        {curves.length > 0 && (
          <BeyondChoice curves={curves} mayChange={clip.may_change} onEdit={onEdit} />
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

interface OneKey {
  readonly curve: BenchCurve;
  readonly key: BenchCurve['keys'][number];
}

/** The one chosen key of the shown curves, if it is one. */
function onlyOne(curves: readonly BenchCurve[], keys: Chosen): OneKey | null {
  const found: OneKey[] = [];
  for (const curve of curves) {
    for (const time of keys[curve.channel] ?? []) {
      const key = curve.keys.find((other) => other.time === time);
      if (key) found.push({ curve, key });
    }
  }
  return found.length === 1 ? found[0] : null;
}

/** The own key of a curve that is nearest to a frame. */
function nearestKey(curve: BenchCurve, frame: number): BenchCurve['keys'][number] | undefined {
  const own = curve.keys.filter((key) => key.own);
  const away = (key: { time: number }) => Math.abs(key.time - frame);
  return own.sort((a, b) => away(a) - away(b))[0];
}

function limitsOf(traces: readonly Trace[]): { low: number; high: number } | null {
  const values = traces.flatMap((trace) => trace.values);
  if (!values.length) return null;
  const low = values.reduce((least, value) => Math.min(least, value), Number.POSITIVE_INFINITY);
  const high = values.reduce((most, value) => Math.max(most, value), Number.NEGATIVE_INFINITY);
  const pad = Math.max(WRITTEN[traces[0].unit].least, (high - low) * 0.12);
  return { low: low - pad, high: high + pad };
}

const STEPS = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 45, 90, 180, 360, 720, 1800];

function paintGrid(
  context: CanvasRenderingContext2D,
  view: View,
  unit: string,
  length: number,
): void {
  const { width, height, low, high } = view;
  context.font = '400 11px "Spline Sans Mono", monospace';
  context.textBaseline = 'middle';
  context.lineWidth = 1;
  const step = STEPS.find((size) => ((height - TOP) * size) / (high - low) > 26) ?? 3600;
  context.textAlign = 'right';
  for (let value = Math.ceil(low / step) * step; value <= high; value += step) {
    const y = yAt(view, value);
    context.fillStyle = Math.abs(value) < 1e-9 ? NON_PHOTO_BLUE : RULE_SOFT;
    context.fillRect(LEFT, y, width - LEFT, 1);
    context.fillStyle = GRAPHITE;
    const text = unit === 'degrees' ? `${Math.round(value * 10) / 10}°` : value.toFixed(2);
    context.fillText(text, LEFT - 5, y);
  }
  context.textAlign = 'center';
  const frames = [1, 2, 3, 6, 12, 24, 48, 120, 240, 1200].find(
    (every) => ((width - LEFT) * every) / (view.end - view.start) > 34,
  );
  for (let frame = 0; frame <= view.end; frame += frames ?? 2400) {
    const x = xAt(view, frame);
    context.fillStyle = RULE_SOFT;
    context.fillRect(x, TOP - 6, 1, height);
    context.fillStyle = GRAPHITE;
    context.fillText(String(frame >= length ? frame - length : frame), x, 8);
  }
  context.strokeStyle = AFTER_TEXT;
  context.beginPath();
  const seam = xAt(view, length);
  for (let y = TOP; y < height; y += 10) {
    context.moveTo(seam - 2.5, y - 2.5);
    context.lineTo(seam + 2.5, y + 2.5);
    context.moveTo(seam + 2.5, y - 2.5);
    context.lineTo(seam - 2.5, y + 2.5);
  }
  context.stroke();
}

function paintTrace(
  context: CanvasRenderingContext2D,
  view: View,
  trace: Trace,
  ink: string,
  length: number,
  isRate: boolean,
): void {
  const values = isRate ? trace.rates : trace.values;
  const scale = isRate ? rateScale(trace, view) : null;
  const y = (value: number) => (scale ? scale(value) : yAt(view, value));
  context.save();
  context.strokeStyle = ink;
  context.lineJoin = 'round';
  context.lineWidth = isRate ? 1 : 1.7;
  if (isRate) context.setLineDash([3, 3]);
  for (const faded of [false, true]) {
    context.globalAlpha = faded ? 0.3 : isRate ? 0.75 : 1;
    context.beginPath();
    let drawing = false;
    values.forEach((value, place) => {
      const frame = trace.start + place / trace.steps_a_frame;
      const outside = frame < 0 || frame > length;
      if (outside !== faded && frame !== 0 && frame !== length) {
        drawing = false;
        return;
      }
      const x = xAt(view, frame);
      if (drawing) context.lineTo(x, y(value));
      else context.moveTo(x, y(value));
      drawing = true;
    });
    context.stroke();
  }
  context.restore();
}

/** Rates have an axis of their own: nothing in the middle, the greatest at the edge. */
function rateScale(trace: Trace, view: View): (rate: number) => number {
  const most = trace.rates.reduce((best, rate) => Math.max(best, Math.abs(rate)), 1e-9);
  const middle = (TOP + view.height - BOTTOM) / 2;
  return (rate) => middle - (rate / most) * (middle - TOP - 4);
}

function paintKeys(
  context: CanvasRenderingContext2D,
  view: View,
  curve: BenchCurve,
  ink: string,
  keys: Chosen,
  length: number,
): void {
  for (const key of curve.keys) {
    if (key.time > length) continue;
    const [x, y] = [xAt(view, key.time), yAt(view, key.value)];
    const isChosen = keys[curve.channel]?.includes(key.time) ?? false;
    if (isChosen) {
      context.strokeStyle = AMBER;
      context.lineWidth = 2;
      context.strokeRect(x - 5, y - 7, 10, 14);
    }
    context.globalAlpha = key.own ? 1 : 0.4;
    context.fillStyle = ink;
    context.fillRect(x - 1, y - 5, 2, 10);
    context.globalAlpha = 1;
  }
}

interface SlopeEnd {
  readonly side: 'in_slope' | 'out_slope';
  readonly x: number;
  readonly y: number;
}

function slopeEnds(view: View, { key }: OneKey): SlopeEnd[] {
  const perFrame = (view.width - LEFT) / (view.end - view.start);
  const perValue = (view.height - TOP - BOTTOM) / (view.high - view.low);
  return (['in_slope', 'out_slope'] as const).map((side) => {
    const way = side === 'in_slope' ? -1 : 1;
    const rise = -(key[side] * perValue) / perFrame;
    const long = Math.hypot(1, rise);
    return {
      side,
      x: xAt(view, key.time) + (way * HANDLE) / long,
      y: yAt(view, key.value) + (way * HANDLE * rise) / long,
    };
  });
}

function paintSlopes(
  context: CanvasRenderingContext2D,
  view: View,
  chosen: OneKey,
  length: number,
) {
  if (chosen.key.time > length) return;
  const [x, y] = [xAt(view, chosen.key.time), yAt(view, chosen.key.value)];
  context.strokeStyle = AMBER;
  context.fillStyle = SHEET;
  context.lineWidth = 1.6;
  for (const end of slopeEnds(view, chosen)) {
    context.beginPath();
    context.moveTo(x, y);
    context.lineTo(end.x, end.y);
    context.stroke();
    context.beginPath();
    context.arc(end.x, end.y, 3.6, 0, Math.PI * 2);
    context.fill();
    context.stroke();
  }
}

const slopeUnder = (view: View, chosen: OneKey, x: number, y: number): SlopeEnd | null =>
  slopeEnds(view, chosen).find((end) => Math.hypot(end.x - x, end.y - y) < REACH) ?? null;

function keyUnder(view: View, curves: readonly BenchCurve[], x: number, y: number): OneKey | null {
  let best: OneKey | null = null;
  let nearest = REACH + 3;
  for (const curve of curves) {
    for (const key of curve.keys) {
      const away = Math.hypot(xAt(view, key.time) - x, yAt(view, key.value) - y);
      if (away < nearest) {
        nearest = away;
        best = { curve, key };
      }
    }
  }
  return best;
}

interface ChosenKeyProps {
  readonly chosen: OneKey;
  readonly mayChange: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onKeys: (keys: Chosen) => void;
}

const SLOPES = [
  ['in_slope', 'in'],
  ['out_slope', 'out'],
] as const;

function ChosenKey({ chosen, mayChange, onEdit, onKeys }: ChosenKeyProps) {
  const { curve, key } = chosen;
  const set = (part: object) =>
    onEdit({ kind: 'set_key', channel: curve.channel, time: key.time, ...part } as ClipEdit);
  return (
    <span className="pair">
      <NumberBox
        label="Frame of the key"
        value={key.time}
        decimals={2}
        disabled={!mayChange || !key.own}
        onCommit={(new_time) => {
          set({ new_time });
          onKeys({ [curve.channel]: [new_time] });
        }}
      />
      <NumberBox
        label="Value of the key"
        value={key.value}
        decimals={WRITTEN[curve.unit].decimals}
        unit={WRITTEN[curve.unit].sign}
        disabled={!mayChange || !key.own}
        onCommit={(value) => set({ value })}
      />
      {SLOPES.map(([name, words]) => (
        <NumberBox
          key={name}
          label={`Slope ${words} of the key`}
          value={key[name]}
          decimals={2}
          unit={words}
          disabled={!mayChange || !key.own}
          onCommit={(slope) => set({ [name]: slope })}
        />
      ))}
    </span>
  );
}

interface SpanChoiceProps {
  readonly keys: Chosen;
  readonly curves: readonly BenchCurve[];
  readonly mayChange: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
}

function SpanChoice({ keys, curves, mayChange, onEdit }: SpanChoiceProps) {
  const spans = new Set<Span>();
  for (const curve of curves) {
    for (const time of keys[curve.channel] ?? []) {
      const key = curve.keys.find((other) => other.time === time);
      if (key) spans.add(key.span);
    }
  }
  if (!spans.size) return null;
  const chosen = Object.fromEntries(Object.entries(keys).map(([k, v]) => [k, [...v]]));
  return (
    <Choice<Span>
      label="How the curve goes on"
      value={spans.size === 1 ? [...spans][0] : null}
      disabled={!mayChange}
      onChange={(span) => onEdit({ kind: 'set_spans', chosen, span })}
      options={[
        { value: 'hold', text: 'hold', hint: withBenchKey('Hold until the next key', 'hold') },
        { value: 'even', text: 'even', hint: withBenchKey('Straight to the next key', 'even') },
        { value: 'eased', text: 'eased', hint: withBenchKey('Eased, no overshoot', 'ease') },
        { value: 'free', text: 'free', hint: withBenchKey('Slopes by hand', 'free') },
      ]}
    />
  );
}

const BEYONDS: readonly (readonly [Beyond, string])[] = [
  ['hold', 'holds'],
  ['repeat', 'repeats'],
  ['offset', 'repeats with offset'],
  ['mirror', 'there and back'],
  ['continue', 'continues'],
];

interface BeyondProps {
  readonly curves: readonly BenchCurve[];
  readonly mayChange: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
}

/** What the shown curves do before their first key and after their last. */
function BeyondChoice({ curves, mayChange, onEdit }: BeyondProps) {
  const channels = curves.map((curve) => curve.channel);
  const { before, after } = curves[0];
  const set = (part: Partial<{ before: Beyond; after: Beyond }>) =>
    onEdit({ kind: 'set_beyond', channels, before, after, ...part });
  return (
    <span className="pair beyond">
      {(['before', 'after'] as const).map((side) => (
        <select
          key={side}
          className="form-select"
          aria-label={side === 'before' ? 'Before the first key' : 'After the last key'}
          title={side === 'before' ? 'Before the first key' : 'After the last key'}
          disabled={!mayChange}
          value={side === 'before' ? before : after}
          onChange={(event) => set({ [side]: event.target.value as Beyond })}
        >
          {BEYONDS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      ))}
    </span>
  );
}
