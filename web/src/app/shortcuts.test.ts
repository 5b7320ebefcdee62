import { expect, test } from 'vitest';
import { SHORTCUTS, withKey, written } from './shortcuts';

const bare = { ctrlKey: false, metaKey: false, altKey: false, shiftKey: false };
const press = (key: string, held: Partial<typeof bare> = {}) => written({ key, ...bare, ...held });

test('presses are written as the table has them', () => {
  expect(press(' ')).toBe('Space');
  expect(press('z', { ctrlKey: true })).toBe('Ctrl+Z');
  expect(press('Z', { ctrlKey: true, shiftKey: true })).toBe('Ctrl+Shift+Z');
  expect(press('?', { shiftKey: true })).toBe('?');
  expect(press('ArrowLeft', { ctrlKey: true, altKey: true })).toBe('Ctrl+Alt+Left');
  expect(press('z', { metaKey: true })).toBe('Ctrl+Z');
});

test('no key stands for two things', () => {
  const keys = SHORTCUTS.flatMap((group) => group.shortcuts.flatMap(({ keys: own }) => own));
  expect(new Set(keys).size).toBe(keys.length);
});

test('a label names its key', () => {
  expect(withKey('Undo', 'undo')).toBe('Undo (Ctrl+Z)');
});
