import { expect, test } from 'vitest';
import type { Clip } from '../../api/clips';
import { BENCH_KEYS, withBenchKey } from './benchKeys';
import { FIRST_BENCH } from './benchMemory';
import { favourEdit } from './FavourStrip';
import {
  chosenAt,
  countOf,
  isSameChoice,
  keyFrames,
  keysOf,
  merged,
  rowsOf,
  spanOf,
  stillKeyed,
  without,
} from './sheet';

type Bench = Clip['bench'];

const joint = (name: string, parent: number, body_part: string, side = 'middle') => ({
  name,
  label: name,
  parent,
  side,
  partner: null,
  body_part,
  reaches: false,
});
const curve = (channel: string, of: string, times: number[], own = true, span = 'eased') => ({
  channel,
  joint: of,
  label: channel,
  kind: channel.startsWith('root') ? 'move' : 'turn',
  unit: 'degrees',
  before: 'repeat',
  after: 'repeat',
  keys: times.map((time) => ({ time, value: time, in_slope: 0, out_slope: 0, span, own })),
});
const BENCH = {
  length_frames: 24,
  joints: [
    joint('hips', -1, 'Body'),
    joint('chest', 0, 'Body'),
    joint('l_hip', 0, 'Left leg', 'left'),
  ],
  curves: [
    curve('root.y', 'hips', [0, 6, 24]),
    curve('hips.turn.x', 'hips', [0, 12], true, 'hold'),
    curve('chest.turn.x', 'chest', [3, 6]),
    curve('l_hip.turn.x', 'l_hip', [12], false),
  ],
} as unknown as Bench;

test('a joint’s keys are one row: what moves, what turns, and what is held throughout', () => {
  const keys = keysOf(BENCH.curves.slice(0, 2), 24);
  expect(keys.map((key) => key.time)).toEqual([0, 6, 12, 24]);
  expect(keys[0]).toMatchObject({ moves: true, turns: true, holds: false });
  expect(keys[2]).toMatchObject({ moves: false, turns: true, holds: true });
});

test('joints stand under their body part, and a folded part is one row', () => {
  expect(rowsOf(BENCH, []).map((row) => row.id)).toEqual([
    'all',
    'part:Body',
    'hips',
    'chest',
    'part:Left leg',
    'l_hip',
  ]);
  const folded = rowsOf(BENCH, ['Body']);
  expect(folded.map((row) => row.id)).toEqual(['all', 'part:Body', 'part:Left leg', 'l_hip']);
  expect(folded[1].keys.map((key) => key.time)).toEqual([0, 3, 6, 12, 24]);
});

test('only own keys can be chosen, and only what is still there stays chosen', () => {
  const all = chosenAt(BENCH, ['hips', 'chest', 'l_hip'], () => true);
  expect(all).toEqual({ 'root.y': [0, 6, 24], 'hips.turn.x': [0, 12], 'chest.turn.x': [3, 6] });
  expect(countOf(all)).toBe(7);
  expect(spanOf(all)).toEqual([0, 24]);
  expect(spanOf({})).toBeNull();
  expect(stillKeyed(BENCH, { 'root.y': [6, 7], 'neck.turn.x': [0] })).toEqual({ 'root.y': [6] });
});

test('choices are added and taken away', () => {
  const both = merged({ 'root.y': [6] }, { 'root.y': [0, 6], 'chest.turn.x': [3] });
  expect(both).toEqual({ 'root.y': [0, 6], 'chest.turn.x': [3] });
  expect(without(both, { 'root.y': [0, 6] })).toEqual({ 'chest.turn.x': [3] });
  expect(isSameChoice(both, { 'chest.turn.x': [3], 'root.y': [6, 0] })).toBe(true);
  expect(isSameChoice(both, { 'chest.turn.x': [3], 'root.y': [0, 7] })).toBe(false);
  expect(isSameChoice(both, { 'root.y': [0, 6] })).toBe(false);
});

test('a cycle’s end is its start: it is no key frame of its own', () => {
  expect(keyFrames(BENCH)).toEqual([0, 3, 6, 12]);
});

test('without chosen joints the whole figure is favoured', () => {
  const wish = { ...FIRST_BENCH.favour, share: 125 };
  expect(favourEdit(7, [], wish)).toMatchObject({ scope: 'whole', share: 1.25, frame: 7 });
  expect(favourEdit(7, ['chest'], { ...wish, fence: 2 })).toMatchObject({
    scope: 'chosen',
    joints: ['chest'],
    fence_frames: 2,
  });
});

test('no key of the bench stands for two things, and axes are left to be held', () => {
  const keys = BENCH_KEYS.flatMap((group) => group.shortcuts.flatMap((own) => own.keys));
  expect(new Set(keys).size).toBe(keys.length);
  for (const axis of ['X', 'Y', 'Z']) expect(keys).not.toContain(axis);
  expect(withBenchKey('Key it', 'key')).toBe('Key it (K)');
});
