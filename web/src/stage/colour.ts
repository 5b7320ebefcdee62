/** Mixing two #rrggbb colours. */

const mixed = new Map<string, string>();

export function mix(a: string, b: string, share: number): string {
  const key = `${a}${b}${share}`;
  const known = mixed.get(key);
  if (known) return known;
  const parts = [1, 3, 5].map((at) => {
    const from = Number.parseInt(a.slice(at, at + 2), 16);
    const to = Number.parseInt(b.slice(at, at + 2), 16);
    return Math.round(from + (to - from) * share)
      .toString(16)
      .padStart(2, '0');
  });
  const result = `#${parts.join('')}`;
  mixed.set(key, result);
  return result;
}

/** The stage's inks and papers: the tokens of the theme, for Canvas. */
export const INK = '#22303C';
export const SHEET = '#FBF8F1';
export const NON_PHOTO_BLUE = '#8CC9E8';
export const PENCIL_BLUE = '#2F6DB5';
export const PENCIL_RED = '#C8452F';
export const AMBER = '#D98A1F';
export const GRAPHITE = '#5C6670';
export const PAPER = '#F4EFE4';
export const RULE_SOFT = '#E6DFD0';
export const RULE_STRONG = '#B9AE98';
export const LAMP_WASH = '#F7E6C9';
export const AFTER_TEXT = '#A93621';
export const VIRIDIAN = '#1C6C58';
export const PLUM = '#7A4E8A';
