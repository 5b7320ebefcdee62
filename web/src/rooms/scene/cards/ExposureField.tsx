import { useState } from 'react';
import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox } from '../../../app/controls';
import { NameField } from '../../../app/NameField';
import { useNotices } from '../../../app/notices';
import type { CardProps } from './card';

type Exposure = Schemas['DeskExposure'];
/** What is asked for: of a stint, a lane, some of its joints or its place; of the scene without any. */
type Of = Partial<Pick<Schemas['Expose'], 'stint' | 'lane' | 'joints' | 'place'>>;

interface ExposureFieldProps extends Pick<CardProps, 'desk' | 'onEdit'> {
  readonly name: string;
  readonly of: Of;
  readonly exposure: Exposure | null;
  /** What it goes by without one of its own; none where it has to have one. */
  readonly above: string | null;
  readonly disabled: boolean;
}

/** The even exposures that have a name. */
export const EVEN = [
  [1, 'on ones'],
  [2, 'on twos'],
  [3, 'on threes'],
  [4, 'on fours'],
] as const;

/** How long each pose stays: on ones, twos, a pattern, or so many drawings a second. */
export function ExposureField(props: ExposureFieldProps) {
  const { name, of, exposure, above, desk, disabled, onEdit } = props;
  const notices = useNotices();
  const own = exposure?.is_own ? exposure : null;
  const isEven = own?.pattern.length === 1 && own.pattern[0] <= 4;
  const [free, setFree] = useState(false);
  const isFree = free || (own !== null && !isEven);
  const value = isFree ? 'pattern' : own ? String(own.pattern[0]) : '';
  const set = (part: Partial<Schemas['Expose']>) =>
    onEdit({ kind: 'expose', place: false, anchor: own?.anchor ?? 0, ...of, ...part });
  const frames = own?.pattern ?? exposure?.pattern ?? [1];
  const aSecond =
    (desk.frames_per_second * frames.length) / frames.reduce((sum, own) => sum + own, 0);
  return (
    <>
      <FieldLine name={name}>
        <select
          className="form-select"
          aria-label={`${name}: how long each pose stays`}
          disabled={disabled}
          value={value}
          onChange={({ target }) => {
            setFree(target.value === 'pattern');
            if (target.value !== 'pattern')
              set({ pattern: target.value ? [Number(target.value)] : null });
          }}
        >
          {above !== null && <option value="">{above}</option>}
          {EVEN.map(([count, text]) => (
            <option key={count} value={String(count)}>
              {text}
            </option>
          ))}
          <option value="pattern">a pattern …</option>
        </select>
      </FieldLine>
      {isFree && (
        <>
          <NameField
            label="Frames that each pose stays, one after the other"
            value={frames.join(', ')}
            disabled={disabled}
            onCommit={(text) => {
              const pattern = text
                .trim()
                .split(/[\s,]+/)
                .map(Number);
              if (pattern.some(Number.isNaN))
                notices.trouble(new Error('Write frames as numbers, like 2, 2, 3, 1.'));
              else set({ pattern });
            }}
          />
          <FieldLine name="or a second">
            <NumberBox
              label="Drawings a second"
              value={aSecond}
              decimals={2}
              smallest={0.01}
              disabled={disabled}
              onCommit={(count) => set({ drawings_a_second: String(count), pattern: null })}
            />
          </FieldLine>
          {own && (
            <FieldLine name="A hold begins at">
              <NumberBox
                label="Frame at which a hold begins"
                value={own.anchor + (of.stint ? 0 : desk.first_frame)}
                disabled={disabled}
                onCommit={(at) =>
                  set({
                    pattern: [...own.pattern],
                    anchor: at - (of.stint ? 0 : desk.first_frame),
                  })
                }
              />
            </FieldLine>
          )}
        </>
      )}
    </>
  );
}
