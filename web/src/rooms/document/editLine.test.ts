import { expect, test, vi } from 'vitest';
import { EditLine, type Sent, type Step } from './editLine';

const step = (token: string): Step<string> => ({ kind: 'edit', token, edit: 'longer' });
const made: Sent<number> = { is: 'made', outcome: 2 };
const settled = () => new Promise((done) => setTimeout(done, 5));

/** A line whose answers are given one by one; what it sent, and what it keeps. */
function line(answers: Sent<number>[], kept: Step<string>[] = []) {
  const sent: string[] = [];
  const befores: (number | null)[] = [];
  const keep = vi.fn();
  const ends = {
    send: async (asked: Step<string>, before: number | null) => {
      sent.push(asked.token);
      befores.push(before);
      return answers.shift() ?? made;
    },
    onMade: vi.fn(),
    onRefused: vi.fn(),
    onLate: vi.fn(async () => {}),
    keep,
  };
  return { line: new EditLine(ends, kept), sent, befores, keep, ends };
}

test('steps go out one after another, in order', async () => {
  const { line: edits, sent, ends } = line([]);
  for (const token of ['a', 'b', 'c']) edits.add(step(token));
  expect(edits.snapshot().waiting).toBe(3);
  await settled();
  expect(sent).toEqual(['a', 'b', 'c']);
  expect(ends.onMade).toHaveBeenCalledTimes(3);
  expect(edits.snapshot()).toEqual({
    waiting: 0,
    unreachable: false,
    signedOut: false,
    stuck: null,
    late: null,
  });
});

test('what cannot be sent waits, is kept, and goes out under the same name', async () => {
  const { line: edits, sent, keep } = line([{ is: 'unreachable' }]);
  edits.add(step('a'));
  edits.add(step('b'));
  await settled();
  expect(edits.snapshot()).toMatchObject({ waiting: 2, unreachable: true });
  expect(keep.mock.lastCall?.[0].map((kept: Step<string>) => kept.token)).toEqual(['a', 'b']);
  edits.resume();
  await settled();
  expect(sent).toEqual(['a', 'a', 'b']);
  expect(keep.mock.lastCall?.[0]).toEqual([]);
});

test('what was kept before a reload goes out after it', async () => {
  const { line: edits, sent } = line([], [step('kept')]);
  expect(edits.snapshot().waiting).toBe(1);
  edits.resume();
  await settled();
  expect(sent).toEqual(['kept']);
});

test('a step may go on from the one before it, and never from one that was not made', async () => {
  const { line: edits, befores } = line([
    { is: 'made', outcome: 7 },
    { is: 'unreachable' },
    { is: 'made', outcome: 8 },
    { is: 'refused', problem: 'no' },
  ]);
  for (const token of ['a', 'b', 'c', 'd', 'e']) edits.add(step(token));
  await settled();
  edits.resume();
  await settled();
  // b is sent twice, after a both times; d follows the refused c.
  expect(befores).toEqual([null, 7, 7, 8, null, 2]);
});

test('a refused step is told and the next ones go on', async () => {
  const { line: edits, sent, ends } = line([{ is: 'refused', problem: 'no' }]);
  edits.add(step('a'));
  edits.add(step('b'));
  await settled();
  expect(sent).toEqual(['a', 'b']);
  expect(ends.onRefused).toHaveBeenCalledWith('no');
  expect(ends.onMade).toHaveBeenCalledTimes(1);
});

test('a late step waits for a choice: again', async () => {
  const { line: edits, sent, ends } = line([{ is: 'late', problem: 'moved on' }]);
  edits.add(step('a'));
  edits.add(step('b'));
  await settled();
  expect(sent).toEqual(['a']);
  expect(ends.onLate).toHaveBeenCalledTimes(1);
  expect(edits.snapshot().late).toEqual(step('a'));
  edits.decide(true);
  await settled();
  expect(sent).toEqual(['a', 'a', 'b']);
  expect(edits.snapshot().late).toBeNull();
});

test('a late step waits for a choice: theirs', async () => {
  const { line: edits, sent } = line([{ is: 'late', problem: 'moved on' }]);
  edits.add(step('a'));
  edits.add(step('b'));
  await settled();
  edits.decide(false);
  await settled();
  expect(sent).toEqual(['a', 'b']);
});

test('an undo that comes too late is let go: what stands is seen again', async () => {
  const { line: edits, sent, ends } = line([{ is: 'late', problem: 'moved on' }]);
  edits.add({ kind: 'walk', token: 'u', way: 'undo' });
  edits.add(step('b'));
  await settled();
  expect(ends.onLate).toHaveBeenCalledTimes(1);
  expect(sent).toEqual(['u', 'b']);
});

test('what is answered with trouble of the server’s own stays until it is decided', async () => {
  const trouble: Sent<number> = { is: 'stuck', problem: 'unexpected' };
  const { line: edits, sent, keep, ends } = line([trouble, trouble]);
  edits.add(step('a'));
  edits.add(step('b'));
  await settled();
  expect(edits.snapshot()).toMatchObject({ waiting: 2, stuck: { problem: 'unexpected' } });
  expect(keep.mock.lastCall?.[0].map((kept: Step<string>) => kept.token)).toEqual(['a', 'b']);
  expect(edits.kept.map((kept) => kept.token)).toEqual(['a', 'b']);
  edits.add(step('c'));
  edits.resume();
  await settled();
  expect(sent).toEqual(['a']);
  edits.unstick(true);
  await settled();
  expect(sent).toEqual(['a', 'a']);
  edits.unstick(false);
  await settled();
  expect(sent).toEqual(['a', 'a', 'b', 'c']);
  expect(edits.snapshot()).toMatchObject({ waiting: 0, stuck: null });
  expect(ends.onRefused).not.toHaveBeenCalled();
  edits.unstick(false);
  expect(ends.onMade).toHaveBeenCalledTimes(2);
});

test('what is made while nobody is signed in goes out when the person is back', async () => {
  const { line: edits, sent, keep } = line([{ is: 'signedOut' }]);
  edits.add(step('a'));
  await settled();
  edits.add(step('b'));
  edits.stop();
  await settled();
  expect(edits.snapshot()).toMatchObject({ waiting: 0, signedOut: false });
  expect(sent).toEqual(['a', 'a', 'b']);
  expect(keep.mock.lastCall?.[0]).toEqual([]);
});
