/** Finding and sorting cards. */

interface Found {
  readonly name: string;
  readonly tags: readonly string[];
  readonly figure_name?: string;
}

/** Whether every word is in a card's name, tags or figure. */
export function isFound(card: Found, sought: string): boolean {
  const told = [card.name, ...card.tags, card.figure_name ?? ''].join(' ').toLowerCase();
  return sought
    .toLowerCase()
    .split(/\s+/)
    .every((word) => told.includes(word));
}

export type Order = 'name' | 'newest' | 'changed' | 'length';

interface Sorted {
  readonly name: string;
  readonly created: string;
  readonly changed: string;
  readonly length_seconds?: number;
}

export const ORDERS: readonly { readonly value: Order; readonly text: string }[] = [
  { value: 'name', text: 'By name' },
  { value: 'newest', text: 'Newest first' },
  { value: 'changed', text: 'Last changed first' },
  { value: 'length', text: 'Longest first' },
];

export function inOrder<T extends Sorted>(cards: readonly T[], order: Order): T[] {
  const by: Record<Order, (a: T, b: T) => number> = {
    name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
    newest: (a, b) => b.created.localeCompare(a.created),
    changed: (a, b) => b.changed.localeCompare(a.changed),
    length: (a, b) => (b.length_seconds ?? 0) - (a.length_seconds ?? 0),
  };
  return [...cards].sort(by[order]);
}
