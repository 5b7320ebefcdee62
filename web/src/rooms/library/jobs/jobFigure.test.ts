import { expect, test } from 'vitest';
import { jobFigure, jobShare } from './jobFigure';
import type { Job } from './useJobs';

const job = (part: Partial<Job>): Job => ({
  id: 'one',
  kind: 'read motion',
  title: 'harbour.bvh',
  state: 'running',
  figure: 0,
  of: 0,
  unit: '',
  is_cancelled: false,
  says: [],
  file: null,
  clip: null,
  sound: null,
  take: null,
  drawings: null,
  run: null,
  line: null,
  print: null,
  ...part,
});

test('a job tells how far it is in its own unit, never more than it has done', () => {
  const running = job({ figure: 51_899, of: 145_000, unit: 'frames' });
  expect(jobFigure(running)).toBe('51,899 of 145,000 frames, 35 %');
  expect(jobShare(running)).toBeCloseTo(0.3579, 4);
  expect(jobFigure(job({ figure: 144_999, of: 145_000, unit: 'frames' }))).toContain('99 %');
});

test('before it begins, while it stops, and after its end it says so', () => {
  expect(jobFigure(job({ state: 'waiting' }))).toBe('Waits for a worker …');
  expect(jobFigure(job({}))).toBe('Begins …');
  expect(jobShare(job({}))).toBe(0);
  expect(jobFigure(job({ is_cancelled: true, figure: 1, of: 2 }))).toBe('Stopping …');
  expect(jobFigure(job({ state: 'cancelled', is_cancelled: true }))).toBe('Cancelled.');
  expect(jobFigure(job({ state: 'refused', says: ['Frame 3 is short.'] }))).toBe(
    'Frame 3 is short.',
  );
  expect(jobFigure(job({ state: 'done', says: ['A is in.', 'It plays on Odo.'] }))).toBe(
    'A is in. It plays on Odo.',
  );
  expect(jobShare(job({ state: 'done' }))).toBe(1);
});
