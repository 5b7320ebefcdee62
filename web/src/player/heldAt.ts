/** What is held on a frame, of what each holds from its own frame on (in order): none before the first. */
export function heldAt<Held extends { readonly frame: number }>(
  held: readonly Held[],
  frame: number,
): Held | null {
  let [low, high] = [0, held.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (held[middle].frame <= frame) low = middle + 1;
    else high = middle;
  }
  return held[low - 1] ?? null;
}
