import { describe, expect, test } from 'vitest';
import { limitsOf, NumberDraft, type NumberField } from './numberDraft';

const metres = (value: number): NumberField => ({ value, decimals: 2 });
const frames = (value: number): NumberField => ({ value, decimals: 0, smallest: 1, largest: 60 });

/** A field in which something is written, and which is left. */
function written(text: string, field: NumberField) {
  const draft = new NumberDraft(field);
  draft.write(text);
  return { draft, committed: draft.left(field) };
}

describe('what is shown', () => {
  test.each([
    [1.5, '1.5'],
    [1.256, '1.26'],
    [10, '10'],
    [-0.001, '0'],
    [-0.38, '-0.38'],
  ])('%d is %s', (value, text) => {
    expect(new NumberDraft(metres(value)).text).toBe(text);
  });

  test('whole numbers keep their noughts', () => {
    expect(new NumberDraft(frames(40)).text).toBe('40');
  });
});

describe('writing', () => {
  test.each([
    ['1.25', 1.25],
    ['1,25', 1.25],
    [' -3 ', -3],
  ])('%s is read', (text, number) => {
    expect(written(text, metres(0)).committed).toBe(number);
  });

  test.each(['', '  ', 'far', '1,234.5', '2e9', 'Infinity'])('%s is no number', (text) => {
    const { draft, committed } = written(text, metres(0.5));
    expect(committed).toBeNull();
    expect(draft.isRefused).toBe(true);
    expect(draft.text).toBe(text);
  });

  test('both limits may be written, and nothing past them', () => {
    expect(written('1', frames(9)).committed).toBe(1);
    expect(written('60', frames(9)).committed).toBe(60);
    expect(written('0', frames(9)).draft.isRefused).toBe(true);
    expect(written('61', frames(9)).draft.isRefused).toBe(true);
  });

  test('the same number in other words is nothing new', () => {
    const { draft, committed } = written('1,500', metres(1.5));
    expect(committed).toBeNull();
    expect(draft.isRefused).toBe(false);
    expect(draft.text).toBe('1.5');
  });

  test('an answer does not take away what is being written; once left, it does', () => {
    const draft = new NumberDraft(frames(2));
    draft.write('7');
    draft.answered(frames(3));
    draft.refusedByServer(frames(3));
    expect(draft.text).toBe('7');
    expect(draft.left(frames(3))).toBe(7);
    draft.answered(frames(8));
    expect(draft.text).toBe('8');
  });
});

test('what was called off is not committed, and not refused where it stood past its limits', () => {
  const draft = new NumberDraft(frames(0));
  draft.write('7');
  draft.putBack(frames(0));
  expect(draft.left(frames(0))).toBeNull();
  expect(draft.text).toBe('0');
  expect(draft.isRefused).toBe(false);
});

describe('arrows', () => {
  test('go on from the one before, however late the answers are', () => {
    const draft = new NumberDraft(frames(2));
    expect(draft.stepped(1, frames(2))).toBe(3);
    expect(draft.stepped(10, frames(2))).toBe(13);
    draft.answered(frames(3));
    expect(draft.text).toBe('13');
    draft.answered(frames(13));
    expect(draft.stepped(-1, frames(13))).toBe(12);
  });

  test('go on from what is written, or from what stands where that is no number', () => {
    const draft = new NumberDraft(frames(2));
    draft.write('7');
    expect(draft.stepped(1, frames(2))).toBe(8);
    const other = new NumberDraft(frames(2));
    other.write('far');
    expect(other.stepped(1, frames(2))).toBe(3);
  });

  test('stop at the limits, and say so', () => {
    const draft = new NumberDraft(frames(60));
    expect(draft.stepped(1, frames(60))).toBeNull();
    expect(draft.isRefused).toBe(true);
    expect(draft.stepped(-1, frames(60))).toBe(59);
    expect(draft.isRefused).toBe(false);
  });

  test('a refusal takes them back to what stands', () => {
    const draft = new NumberDraft(frames(2));
    draft.stepped(1, frames(2));
    draft.refusedByServer(frames(2));
    expect(draft.text).toBe('2');
    expect(draft.stepped(1, frames(2))).toBe(3);
  });

  test('leaving after them commits nothing twice', () => {
    const draft = new NumberDraft(frames(2));
    draft.stepped(1, frames(2));
    expect(draft.left(frames(2))).toBeNull();
  });
});

test('limits are told as far as there are any', () => {
  expect(limitsOf({})).toBe('Write a number.');
  expect(limitsOf({ smallest: 0 })).toBe('Write a number, 0 or more.');
  expect(limitsOf({ largest: 9 })).toBe('Write a number, 9 or less.');
  expect(limitsOf({ smallest: 0, largest: 9 })).toBe('Write a number, 0 to 9.');
});
