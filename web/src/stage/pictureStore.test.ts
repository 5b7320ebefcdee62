import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { PictureStore } from './pictureStore';

/** What was asked for, in its order, with what lets each come. */
const asked: { readonly url: string; readonly come: () => void; readonly fail: () => void }[] = [];

class SlowImage {
  src = '';
  decode(): Promise<void> {
    return new Promise((come, fail) => {
      asked.push({ url: this.src, come, fail: () => fail(new Error('It never came.')) });
    });
  }
}

const settled = () => new Promise((done) => setTimeout(done));
const urls = () => asked.map(({ url }) => url);

describe('pictures on their way', () => {
  beforeEach(() => {
    asked.length = 0;
    vi.stubGlobal('Image', SlowImage);
  });
  afterEach(() => vi.unstubAllGlobals());

  it('fetches what is looked at before what comes next, and no more of what was to come', async () => {
    const store = new PictureStore((file) => file);
    store.expect(['1', '2', '3', '4', '5', '6', '7', '8', '9']);
    expect(urls()).toEqual(['1', '2', '3', '4', '5', '6']);
    // A jump: the picture there is the next one asked for, and 7, 8 and 9 are not wanted any more.
    expect(store.image('840')).toBeNull();
    store.expect(['840', '841']);
    asked[0].come();
    asked[1].come();
    await settled();
    expect(urls().slice(6)).toEqual(['840', '841']);
    expect(store.image('1')).not.toBeNull();
    expect(store.image('840')).toBeNull();
  });

  it('asks for each once, and for one that never came when it is looked at again', async () => {
    const store = new PictureStore((file) => file);
    for (let look = 0; look < 3; look++) store.image('a');
    expect(urls()).toEqual(['a']);
    asked[0].fail();
    await settled();
    expect(store.isWaiting).toBe(false);
    expect(store.image('a')).toBeNull();
    expect(urls()).toEqual(['a', 'a']);
  });

  it('waits for those in line as well, and tells of each that comes', async () => {
    const store = new PictureStore((file) => file);
    const came = vi.fn();
    store.onCame(came);
    for (let file = 0; file < 8; file++) store.image(`${file}`);
    let isOver = false;
    const all = store.allCame().then(() => {
      isOver = true;
    });
    for (const { come } of asked.slice()) come();
    await settled();
    expect([urls().length, isOver]).toEqual([8, false]);
    for (const { come } of asked.slice(6)) come();
    await all;
    expect(came).toHaveBeenCalledTimes(8);
  });
});
