import { expect, test } from 'vitest';
import { Newest } from './newest';

/** Wishes whose answers are given by hand; what was asked, and what was shown. */
function wishes() {
  const asked: number[] = [];
  const shown: number[] = [];
  const answers: { come: () => void; fail: () => void }[] = [];
  const newest: Newest<number> = new Newest(async (wish) => {
    asked.push(wish);
    await new Promise<void>((come, fail) => answers.push({ come, fail: () => fail(new Error()) }));
    if (newest.wish !== null) shown.push(wish);
  });
  const next = async (end: 'come' | 'fail' = 'come') => {
    answers.shift()?.[end]();
    await new Promise((done) => setTimeout(done));
  };
  return { newest, asked, shown, next };
}

test('one at a time, and what was overtaken is never asked', async () => {
  const { newest, asked, shown, next } = wishes();
  for (const wish of [1, 2, 3, 4]) void newest.want(wish);
  expect(asked).toEqual([1]);
  await next();
  expect(asked).toEqual([1, 4]);
  await next();
  expect(shown).toEqual([1, 4]);
  expect(newest.isAwaited).toBe(false);
  expect(newest.wish).toBe(4);
});

test('what is dropped is not shown, and nothing more is asked', async () => {
  const { newest, asked, shown, next } = wishes();
  void newest.want(1);
  void newest.want(2);
  newest.drop();
  expect(newest.isAwaited).toBe(false);
  await next();
  expect(asked).toEqual([1]);
  expect(shown).toEqual([]);
});

test('a wish after a drop is asked once the answer that is under way has come', async () => {
  const { newest, asked, shown, next } = wishes();
  void newest.want(1);
  newest.drop();
  void newest.want(2);
  expect(asked).toEqual([1]);
  await next();
  await next();
  expect(asked).toEqual([1, 2]);
  expect(shown.at(-1)).toBe(2);
});

test('what fails is passed over; the same wish can be asked again', async () => {
  const { newest, asked, shown, next } = wishes();
  void newest.want(1);
  void newest.want(2);
  await next('fail');
  await next();
  expect(shown).toEqual([2]);
  void newest.want(2);
  await next();
  expect(asked).toEqual([1, 2, 2]);
});
