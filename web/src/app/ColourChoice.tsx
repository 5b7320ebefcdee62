import type { Schemas } from '../api/client';
import { Choice } from './controls';

export type Colour = Schemas['ClipCard']['colour'];

export const COLOURS: readonly Colour[] = [
  'cobalt',
  'vermilion',
  'ochre',
  'viridian',
  'plum',
  'slate',
  'rose',
  'moss',
];

export const colourAfter = (colour: Colour): Colour =>
  COLOURS[(COLOURS.indexOf(colour) + 1) % COLOURS.length];

interface ColourChoiceProps {
  readonly label: string;
  readonly value: Colour | null;
  readonly disabled?: boolean;
  readonly onChange: (colour: Colour) => void;
}

/** The eight pencils of the desk. */
export function ColourChoice({ label, value, disabled, onChange }: ColourChoiceProps) {
  return (
    <Choice<Colour>
      label={label}
      className="colour-choice"
      value={value}
      disabled={disabled ?? false}
      onChange={onChange}
      options={COLOURS.map((colour) => ({
        value: colour,
        hint: colour,
        text: (
          <>
            <i style={{ background: `var(--${colour})` }} />
            <span className="visually-hidden">{colour}</span>
          </>
        ),
      }))}
    />
  );
}
