import type { BenchCurve, BenchKey, Chosen, ClipEdit } from '../../api/clips';
import { Choice, NumberBox } from '../../app/controls';
import { withBenchKey } from './benchKeys';
import type { OneKey } from './curvePicture';
import { WRITTEN } from './kinds';

type Beyond = BenchCurve['after'];
type Span = BenchKey['span'];

interface ChosenKeyProps {
  readonly chosen: OneKey;
  readonly mayChange: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
}

const SLOPES = [
  ['in_slope', 'in'],
  ['out_slope', 'out'],
] as const;

/** The numbers of the one chosen key. */
export function ChosenKey({ chosen, mayChange, onEdit }: ChosenKeyProps) {
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
        onCommit={(new_time) => set({ new_time })}
      />
      <NumberBox
        label="Value of the key"
        value={key.value}
        decimals={WRITTEN[curve.unit].decimals}
        unit={WRITTEN[curve.unit].sign}
        disabled={!mayChange || !key.own}
        onCommit={(value) => set({ value })}
      />
      {SLOPES.map(([name, words]) => {
        const slope = key[name];
        return (
          slope !== null && (
            <NumberBox
              key={name}
              label={`Slope ${words} of the key`}
              value={slope}
              decimals={2}
              unit={words}
              disabled={!mayChange || !key.own}
              onCommit={(wanted) => set({ [name]: wanted })}
            />
          )
        );
      })}
    </span>
  );
}

interface SpanChoiceProps {
  readonly keys: Chosen;
  readonly curves: readonly BenchCurve[];
  readonly mayChange: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
}

/** How the curve goes on from the chosen keys. */
export function SpanChoice({ keys, curves, mayChange, onEdit }: SpanChoiceProps) {
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

/** What each is called, and what it has the curve do. */
const BEYONDS: readonly (readonly [Beyond, string, string])[] = [
  ['hold', 'holds', 'hold'],
  ['repeat', 'repeats', 'repeat'],
  ['offset', 'offset', 'repeat, each round higher by its rise'],
  ['mirror', 'mirrors', 'go there and back'],
  ['continue', 'goes on', 'go on in a straight line'],
];

interface BeyondProps {
  readonly curves: readonly BenchCurve[];
  readonly mayChange: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
}

/** What the shown curves do before their first key and after their last. */
export function BeyondChoice({ curves, mayChange, onEdit }: BeyondProps) {
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
          title={`${side === 'before' ? 'Before the first key' : 'After the last key'} it will ${says(side === 'before' ? before : after)}`}
          disabled={!mayChange}
          value={side === 'before' ? before : after}
          onChange={(event) => set({ [side]: event.target.value as Beyond })}
        >
          {BEYONDS.map(([value, words, does]) => (
            <option key={value} value={value} title={does}>
              {words}
            </option>
          ))}
        </select>
      ))}
    </span>
  );
}

const says = (beyond: Beyond): string => BEYONDS.find(([value]) => value === beyond)?.[2] ?? '';
