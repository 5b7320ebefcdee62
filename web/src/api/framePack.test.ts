import { describe, expect, it } from 'vitest';
import { bytesIn, drawingIn, framesIn, guideIn, poseIn, readFramePack } from './framePack';

/** A pack as the core writes it: header length, header, arrays on multiples of eight bytes. */
function packed(entries: Record<string, { dtype: string; shape: number[]; bytes: Uint8Array }>) {
  const header: Record<string, unknown> = { __metadata__: { content: 'c' } };
  const blocks: Uint8Array[] = [];
  let position = 0;
  for (const [name, { dtype, shape, bytes }] of Object.entries(entries)) {
    header[name] = { dtype, shape, data_offsets: [position, position + bytes.length] };
    const block = new Uint8Array(Math.ceil(bytes.length / 8) * 8);
    block.set(bytes);
    blocks.push(block);
    position += block.length;
  }
  let text = JSON.stringify(header);
  text += ' '.repeat((8 - (text.length % 8)) % 8);
  const whole = new Uint8Array(8 + text.length + position);
  new DataView(whole.buffer).setBigUint64(0, BigInt(text.length), true);
  whole.set(new TextEncoder().encode(text), 8);
  let at = 8 + text.length;
  for (const block of blocks) {
    whole.set(block, at);
    at += block.length;
  }
  return whole.buffer;
}

const floats = (...numbers: number[]) => new Uint8Array(new Float32Array(numbers).buffer);
const whole = (...numbers: number[]) => new Uint8Array(new Int32Array(numbers).buffer);

describe('frame packs', () => {
  const pack = readFramePack(
    packed({
      'odo/contacts': { dtype: 'U8', shape: [2, 1], bytes: new Uint8Array([1, 0]) },
      'odo/positions': { dtype: 'F32', shape: [2, 1, 3], bytes: floats(1, 2, 3, 4, 5, 6) },
      'odo/rotations': { dtype: 'F32', shape: [2, 1, 4], bytes: floats(1, 0, 0, 0, 0, 1, 0, 0) },
      'odo/travel': { dtype: 'F32', shape: [2, 3], bytes: floats(0, 0, 0, 0.5, 0.25, 0) },
      'odo/drawings/mouth': { dtype: 'I32', shape: [2], bytes: whole(3, -70_000) },
    }),
  );

  it('read every kind of number from its own place', () => {
    expect(pack.metadata.content).toBe('c');
    expect([...(pack.arrays.get('odo/contacts')?.data ?? [])]).toEqual([1, 0]);
    expect([...(poseIn(pack, 'odo', 1)?.positions ?? [])]).toEqual([4, 5, 6]);
    expect([...(poseIn(pack, 'odo', 1)?.rotations ?? [])]).toEqual([0, 1, 0, 0]);
    expect([...(poseIn(pack, 'odo', 1)?.travel ?? [])]).toEqual([0.5, 0.25, 0]);
    expect(drawingIn(pack, 'odo', 'mouth', 0)).toBe(3);
    expect(drawingIn(pack, 'odo', 'mouth', 1)).toBe(-70_000);
    expect(drawingIn(pack, 'odo', 'eyes', 1)).toBe(-1);
  });

  it('tell where guides are, and nothing of one that is not there', () => {
    const bytes = floats(0, 1, 2, 0.5, 3, 4, 5, 0.75);
    const guided = readFramePack(packed({ 'guides/g': { dtype: 'F32', shape: [2, 4], bytes } }));
    expect(guideIn(guided, 'g', 1)).toEqual([3, 4, 5, 0.75]);
    expect(guideIn(guided, 'g', 2)).toBeNull();
    expect(guideIn(guided, 'h', 0)).toBeNull();
  });

  it('keep the joints of each frame apart, and the frames of each array', () => {
    const count = (size: number) => Array.from({ length: 3 * 2 * size }, (_, k) => k);
    const three = readFramePack(
      packed({
        'odo/positions': { dtype: 'F32', shape: [3, 2, 3], bytes: floats(...count(3)) },
        'odo/rotations': { dtype: 'F32', shape: [3, 2, 4], bytes: floats(...count(4)) },
        'odo/scales': { dtype: 'F32', shape: [3, 2, 3], bytes: floats(...count(3)) },
        'odo/travel': { dtype: 'F32', shape: [3, 3], bytes: floats(0, 1, 2, 3, 4, 5, 6, 7, 8) },
      }),
    );
    const middle = poseIn(three, 'odo', 1);
    expect([...(middle?.positions ?? [])]).toEqual([6, 7, 8, 9, 10, 11]);
    expect([...(middle?.rotations ?? [])]).toEqual([8, 9, 10, 11, 12, 13, 14, 15]);
    expect([...(middle?.scales ?? [])]).toEqual([6, 7, 8, 9, 10, 11]);
    expect([...(middle?.travel ?? [])]).toEqual([3, 4, 5]);
    expect([...(poseIn(three, 'odo', 2)?.rotations ?? [])].at(-1)).toBe(23);
  });

  it('tell their frames and their bytes, and have no pose beyond them', () => {
    expect(framesIn(pack)).toBe(2);
    expect(bytesIn(pack)).toBe(2 + 24 + 32 + 24 + 8);
    expect(poseIn(pack, 'odo', 2)).toBeNull();
    expect(poseIn(pack, 'odo', -1)).toBeNull();
  });

  it('refuse a kind that they do not know', () => {
    const odd = packed({ x: { dtype: 'F16', shape: [1], bytes: new Uint8Array(2) } });
    expect(() => readFramePack(odd)).toThrow('F16');
  });
});
