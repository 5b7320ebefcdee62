import { describe, expect, it } from 'vitest';
import type { PrintRow } from '../../api/nightList';
import { movedBy, paceSaid, rowSaid, spanSaid, tonight } from './night';

const NOW = new Date('2026-11-29T18:30:00');
const row = (part: Partial<PrintRow>): PrintRow =>
  ({
    id: 'a',
    state: 'waiting',
    figure: 0,
    of: 288,
    frames_per_second: null,
    seconds_left: null,
    not_before: null,
    is_held: false,
    is_cancelled: false,
    says: '',
    ...part,
  }) as PrintRow;

describe('the night list', () => {
  it('begins at the next one in the morning', () => {
    expect(tonight(NOW)).toEqual(new Date('2026-11-30T01:00:00'));
    expect(tonight(new Date('2026-11-30T00:59:59'))).toEqual(new Date('2026-11-30T01:00:00'));
    expect(tonight(new Date('2026-11-30T01:00:00'))).toEqual(new Date('2026-12-01T01:00:00'));
  });

  it('says what each row waits for, how far it is, and why it came to nothing', () => {
    expect(rowSaid(row({}), NOW)).toBe('waits for its turn');
    expect(rowSaid(row({ is_held: true }), NOW)).toBe('held');
    const night = tonight(NOW).toISOString();
    expect(rowSaid(row({ not_before: night }), NOW)).toBe('waits until 01:00');
    expect(rowSaid(row({ not_before: night }), new Date('2026-11-30T01:00:01'))).toBe(
      'waits for its turn',
    );
    expect(rowSaid(row({ state: 'running', figure: 287 }), NOW)).toBe('99 % done');
    expect(rowSaid(row({ state: 'running', is_cancelled: true }), NOW)).toBe('Stopping …');
    expect(rowSaid(row({ state: 'refused', says: 'The sound is missing.' }), NOW)).toBe(
      'The sound is missing.',
    );
  });

  it('tells the time left as one would say it', () => {
    expect(paceSaid(row({}))).toBe('');
    expect(paceSaid(row({ seconds_left: 10.4, frames_per_second: 11.02 }))).toBe(
      '10 s left, 11.0 fps',
    );
    expect([0, 89, 91, 600, 6000].map(spanSaid)).toEqual([
      '1 s',
      '89 s',
      '2 min',
      '10 min',
      '1.7 h',
    ]);
  });

  it('moves a row among those that wait, and no further', () => {
    const rows = [row({ id: 'run', state: 'running' }), row({ id: 'a' }), row({ id: 'b' })];
    expect(movedBy(rows, 'b', -1)).toEqual(['b', 'a']);
    expect(movedBy(rows, 'a', -1)).toBeNull();
    expect(movedBy(rows, 'b', 1)).toBeNull();
    expect(movedBy(rows, 'run', 1)).toBeNull();
  });
});
