import { expect, test, vi } from 'vitest';
import { Listeners, Store } from './store';

test('those who listen are told until they leave', () => {
  const frames = new Listeners<[frame: number]>();
  const [one, two] = [vi.fn(), vi.fn()];
  const leave = frames.add(one);
  frames.add(two);
  frames.tell(7);
  leave();
  frames.tell(8);
  expect(one.mock.calls).toEqual([[7]]);
  expect(two.mock.calls).toEqual([[7], [8]]);
});

test('a state changes by parts, and one that was taken stays as it was', () => {
  const store = new Store({ waiting: 0, unreachable: false });
  const before = store.snapshot();
  const seen: number[] = [];
  store.subscribe(() => seen.push(store.snapshot().waiting));
  store.change({ waiting: 2 });
  store.change({ unreachable: true });
  expect(seen).toEqual([2, 2]);
  expect(store.snapshot()).toEqual({ waiting: 2, unreachable: true });
  expect(before).toEqual({ waiting: 0, unreachable: false });
  // Nothing new is the same thing: React looks no further.
  expect(store.snapshot()).toBe(store.snapshot());
});
