import { expect, test, vi } from 'vitest';
import type { FramePack } from '../api/framePack';
import { CHUNK_FRAMES, FrameStore } from './frameStore';

const settled = () => new Promise((done) => setTimeout(done, 5));

/** A pack of one joint whose x is its frame. */
function pack(content: string, start: number, end: number): FramePack {
  const frames = end - start;
  const array = (size: number) => {
    const data = new Float32Array(frames * size);
    for (let k = 0; k < frames; k++) data[k * size] = start + k;
    return { shape: [frames, 1, size], data };
  };
  const travel = { ...array(3), shape: [frames, 3] };
  return {
    metadata: { content },
    arrays: new Map([
      ['odo/positions', array(3)],
      ['odo/rotations', array(4)],
      ['odo/travel', travel],
    ]),
  };
}

function store() {
  const movedOn = vi.fn(async () => {});
  const trouble = vi.fn();
  return { frames: new FrameStore(trouble, movedOn), movedOn, trouble };
}

test('the chunk at the playhead comes first, then those ahead, then those behind', async () => {
  const { frames } = store();
  const asked: number[] = [];
  frames.lookAt(2 * CHUNK_FRAMES + 5);
  frames.show('a', 4 * CHUNK_FRAMES, async (start, end) => {
    asked.push(start / CHUNK_FRAMES);
    return pack('a', start, end);
  });
  await settled();
  expect(asked).toEqual([2, 3, 0, 1]);
  expect(frames.pose('odo', 60)?.positions[0]).toBe(60);
  expect(frames.isReady(10)).toBe(true);
});

test('what stood before is shown until the new frames are here', async () => {
  const { frames } = store();
  frames.show('a', 20, async (start, end) => pack('a', start, end));
  await settled();
  let bring = () => {};
  const waiting = new Promise<void>((done) => {
    bring = done;
  });
  frames.show('b', 20, async (start, end) => {
    await waiting;
    return pack('b', start + 500, end + 500);
  });
  expect(frames.isReady(3)).toBe(false);
  expect(frames.pose('odo', 3)?.positions[0]).toBe(3);
  bring();
  await settled();
  expect(frames.pose('odo', 3)?.positions[0]).toBe(503);
});

test('frames that nobody looks at any more are given up, and do not hold up those that are', async () => {
  const { frames, trouble } = store();
  frames.show(
    'slow',
    20,
    (_start, _end, signal) =>
      new Promise((_, give) => signal.addEventListener('abort', () => give(signal.reason))),
  );
  await settled();
  frames.show('b', 20, async (start, end) => pack('b', start, end));
  await settled();
  expect(frames.pose('odo', 3)?.positions[0]).toBe(3);
  expect(trouble).not.toHaveBeenCalled();
});

test('frames of a scene that changed elsewhere are not shown as this one', async () => {
  const { frames, movedOn } = store();
  frames.show('a', 20, async (start, end) => pack('newer', start, end));
  await settled();
  expect(movedOn).toHaveBeenCalledTimes(1);
  expect(frames.pose('odo', 0)).toBeNull();
});

test('a chunk answered from what was undone meanwhile is asked for again when it is redone', async () => {
  const { frames } = store();
  let undone = true;
  const load = async (start: number, end: number) => pack(undone ? 'before' : 'a', start, end);
  frames.show('a', 40, load);
  await settled();
  frames.show('before', 40, async (start, end) => pack('before', start, end));
  await settled();
  undone = false;
  frames.show('a', 40, load);
  await settled();
  expect([frames.isReady(3), frames.isReady(30)]).toEqual([true, true]);
});

test('what was undone and redone within one answer is asked for again', async () => {
  const { frames, movedOn } = store();
  let undone = true;
  movedOn.mockImplementation(async () => {
    undone = false;
  });
  frames.show('a', 40, async (start, end) => pack(undone ? 'before' : 'a', start, end));
  await settled();
  expect([frames.isReady(3), frames.isReady(30)]).toEqual([true, true]);
  expect(movedOn).toHaveBeenCalledTimes(1);
});

test('a preview that its own edit overtook is no trouble', async () => {
  const { frames, trouble } = store();
  const refused = async (): Promise<FramePack> => {
    throw new Error('gone');
  };
  frames.show('a', 20, refused, true);
  await settled();
  expect(trouble).not.toHaveBeenCalled();
  frames.show('b', 20, refused);
  await settled();
  expect(trouble).toHaveBeenCalledTimes(1);
});

test('frames are let go of by their bytes, those farthest from the playhead first', async () => {
  const trouble = vi.fn();
  const bytesOfChunk = CHUNK_FRAMES * (3 + 4 + 3) * 4;
  const frames = new FrameStore(trouble, async () => {}, 10 * bytesOfChunk);
  const asked: number[] = [];
  const load = async (start: number, end: number) => {
    asked.push(start / CHUNK_FRAMES);
    return pack('a', start, end);
  };
  frames.show('a', 40 * CHUNK_FRAMES, load);
  await settled();
  // It stops where its room is nearly full, and does not ask for what it would let go of at once.
  expect(asked).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
  frames.lookAt(30 * CHUNK_FRAMES);
  await settled();
  expect(asked.slice(10).sort()).toEqual([28, 29, 30, 31, 32]);
  expect([28, 29, 30, 31, 32].every((chunk) => frames.isReady(chunk * CHUNK_FRAMES))).toBe(true);
  const kept = Array.from({ length: 40 }, (_, chunk) => chunk).filter((chunk) =>
    frames.isReady(chunk * CHUNK_FRAMES),
  );
  expect(kept).toEqual([5, 6, 7, 8, 9, 28, 29, 30, 31, 32]);
  frames.lookAt(0);
  await settled();
  expect(frames.pose('odo', 3)?.positions[0]).toBe(3);
});

test('a content that was shown long ago gives its room to the one that plays', async () => {
  const bytesOfChunk = CHUNK_FRAMES * (3 + 4 + 3) * 4;
  const frames = new FrameStore(vi.fn(), async () => {}, 4 * bytesOfChunk);
  for (const name of ['a', 'b']) {
    frames.show(name, 3 * CHUNK_FRAMES, async (start, end) => pack(name, start, end));
    await settled();
  }
  expect([0, 1, 2].every((chunk) => frames.isReady(chunk * CHUNK_FRAMES))).toBe(true);
  const again: number[] = [];
  frames.show('a', 3 * CHUNK_FRAMES, async (start, end) => {
    again.push(start / CHUNK_FRAMES);
    return pack('a', start, end);
  });
  await settled();
  expect(again.length).toBeGreaterThanOrEqual(2);
});
