/** The theme's colours for Canvas, and mixing two of them. */

import theme from '../app/theme.css?raw';

const mixed = new Map<string, string>();

/** From one #rrggbb to another. */
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

/** The inks and papers that canvases paint with: the tokens of the theme, which says them once. */
const SAID = new Map(
  [...theme.matchAll(/--([a-z-]+): (#[0-9a-f]{6});/g)].map(([, name, colour]) => [name, colour]),
);

function token(name: string): string {
  const colour = SAID.get(name);
  if (!colour) throw new Error(`The theme has no colour --${name}.`);
  return colour;
}

export const INK = token('ink');
export const SHEET = token('sheet');
export const NON_PHOTO_BLUE = token('non-photo');
export const PENCIL_BLUE = token('before');
export const PENCIL_RED = token('after');
export const AMBER = token('lamp');
export const GRAPHITE = token('graphite');
export const PAPER = token('paper');
export const PAPER_DEEP = token('paper-deep');
export const RULE = token('rule');
export const RULE_SOFT = token('rule-soft');
export const RULE_STRONG = token('rule-strong');
export const LAMP_WASH = token('lamp-wash');
export const BEFORE_TEXT = token('before-text');
export const GOOD = token('good');
export const AFTER_TEXT = token('after-text');
export const VIRIDIAN = token('good-text');
export const PLUM = token('plum');
