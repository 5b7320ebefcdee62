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
  const movedOn = vi.fn();
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

test('frames of a scene that changed elsewhere are not shown as this one', async () => {
  const { frames, movedOn } = store();
  frames.show('a', 20, async (start, end) => pack('newer', start, end));
  await settled();
  expect(movedOn).toHaveBeenCalledTimes(1);
  expect(frames.pose('odo', 0)).toBeNull();
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
