import { useEffect, useRef, useState } from 'react';
import type { Schemas } from '../../../api/client';
import { NumberBox } from '../../../app/controls';
import { roundsText } from '../../../desk/stintShape';
import type { CardProps } from './card';

type Stint = Schemas['DeskStint'];
type Number = keyof Stint['numbers'];

const NAMES: Readonly<Record<Number, string>> = {
  scene_from: 'the first frame in the scene',
  scene_to: 'the last frame in the scene',
  clip_from: 'the first frame of the clip',
  clip_to: 'the last frame of the clip',
  pace: 'the pace',
};
const NUMBERS = Object.keys(NAMES) as Number[];

interface StintNumbersProps extends Pick<CardProps, 'desk' | 'options' | 'onEdit'> {
  readonly stint: Stint;
  readonly disabled: boolean;
}

/**
 * When it plays, which part of the clip, how fast: three edits that never stand in for one another.
 * The number that follows a change is always the same, and is marked before anything is changed.
 */
export function StintNumbers({ desk, options, stint, disabled, onEdit }: StintNumbersProps) {
  const [held, setHeld] = useState<Number | null>(null);
  const { ripple } = options;
  const shown = shownNumbers(stint, desk.first_frame);
  const followed = useFollowed(stint, shown);
  const set = (number: Number, value: number) =>
    onEdit({
      kind: 'set_number',
      stint: stint.id,
      number,
      value: madeOf(stint, desk, number, value),
      ripple,
    });
  const follower = held && desk.follows[held];
  const box = (number: Number, label: string) => (
    <span className={follower === number ? 'follows' : ''}>
      <NumberBox
        label={label}
        value={shown[number]}
        decimals={number === 'pace' ? 1 : number.startsWith('clip') ? 2 : 0}
        {...(number === 'pace' ? { unit: '%', smallest: 1 } : {})}
        disabled={disabled}
        onHold={(isHeld) => setHeld(isHeld ? number : null)}
        onCommit={(value) => set(number, value)}
      />
    </span>
  );

  return (
    <>
      <div className="three-edits">
        <section aria-label="Move">
          <h3>
            In the scene <em>when it plays</em>
          </h3>
          <div className="field-line">
            <span className="pair">
              {box('scene_from', 'First frame in the scene: moves the stint')}
              to
              {box('scene_to', 'Last frame in the scene: trims the end')}
            </span>
            <span className="quiet number">{Math.round(stint.end - stint.start)} fr</span>
          </div>
        </section>
        <section aria-label="Trim">
          <h3>
            Of the clip <em>which part plays</em>
          </h3>
          <div className="field-line">
            <span className="pair">
              {box('clip_from', 'First frame of the clip: trims the start')}
              to
              {box('clip_to', 'Last frame of the clip: trims the end')}
            </span>
            <span className="quiet">
              {stint.is_cycle
                ? `${roundsText(stint.cycles ?? 0)} rounds of ${stint.clip_length_frames}`
                : `of 0–${stint.clip_length_frames - 1}`}
            </span>
          </div>
        </section>
        <section aria-label="Stretch">
          <h3>
            Pace <em>how fast it runs</em>
          </h3>
          <div className="field-line">
            {box('pace', 'Pace in percent: stretches the stint')}
            <span className="quiet">100 % is as made</span>
          </div>
        </section>
      </div>
      <p className="quiet told" role="status">
        {held && follower
          ? `${capital(NAMES[follower])} goes with it. The rest stays.`
          : followed || 'Each number takes one other with it: press one to see which.'}
      </p>
    </>
  );
}

type Shown = Readonly<Record<Number, number>>;

/** Numbers as they are read: frames that show, first and last; the scene's from its first frame. */
function shownNumbers({ numbers }: Stint, firstFrame: number): Shown {
  const way = numbers.pace < 0 ? -1 : 1;
  return {
    scene_from: numbers.scene_from + firstFrame,
    scene_to: numbers.scene_to - 1 + firstFrame,
    clip_from: numbers.clip_from,
    clip_to: numbers.clip_to - way,
    pace: numbers.pace * 100,
  };
}

/** What was written, as the core counts: from 0 and half open. */
function madeOf(stint: Stint, desk: CardProps['desk'], number: Number, value: number): number {
  if (number === 'scene_from') return value - desk.first_frame;
  if (number === 'scene_to') return value + 1 - desk.first_frame;
  if (number === 'clip_to') return value + (stint.numbers.pace < 0 ? -1 : 1);
  return number === 'pace' ? value / 100 : value;
}

/** After a change: every number that is another now, from and to. */
function useFollowed(stint: Stint, shown: Shown): string {
  const before = useRef({ id: stint.id, shown });
  const [said, setSaid] = useState('');
  useEffect(() => {
    const last = before.current;
    before.current = { id: stint.id, shown };
    if (last.id !== stint.id) return;
    const changed = NUMBERS.filter((name) => Math.abs(last.shown[name] - shown[name]) > 1e-6);
    if (!changed.length) return;
    const parts = changed.map(
      (name) => `${NAMES[name]} ${short(last.shown[name])} → ${short(shown[name])}`,
    );
    setSaid(`Now: ${parts.join('; ')}.`);
  });
  return said;
}

const short = (value: number): string => String(Math.round(value * 100) / 100);
const capital = (text: string): string => text[0].toUpperCase() + text.slice(1);
