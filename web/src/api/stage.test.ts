import { expect, test } from 'vitest';
import { Pieces } from './stage';

const block = (...bytes: number[]) => [bytes.length, 0, 0, 0, ...bytes];
const told = (buffer: ArrayBuffer | null) => buffer && [...new Uint8Array(buffer)];

test('blocks come out whole, however the stream is cut', () => {
  const stream = [...block(1, 2, 3), ...block(), ...block(4, 5)];
  for (const size of [1, 2, 3, 5, 17]) {
    const pieces = new Pieces();
    const seen: (number[] | null)[] = [];
    for (let at = 0; at < stream.length; at += size) {
      pieces.add(Uint8Array.from(stream.slice(at, at + size)));
      for (let next = pieces.next(); next; next = pieces.next()) seen.push(told(next));
    }
    expect(seen).toEqual([[1, 2, 3], [], [4, 5]]);
    expect(pieces.next()).toBeNull();
  }
});
