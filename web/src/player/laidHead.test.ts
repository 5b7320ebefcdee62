import { describe, expect, it } from 'vitest';
import { LaidHead } from './laidHead';
import { Player } from './player';

const player = () => {
  const made = new Player(() => true);
  made.setScene(12, 24);
  return made;
};
/** Frames 4 to 6 at half pace. */
const SLOW = [0, 1, 2, 3, 4, 4.5, 5, 5.5, 6, 7, 8, 9];

describe('the playhead by the laid ruler', () => {
  it('is the player’s own where time is straight', () => {
    const head = new LaidHead(player(), null);
    head.goTo(7);
    expect(head.frame).toBe(7);
    expect(head.playedEnd(9)).toBe(9);
  });

  it('goes to where a laid frame plays, and tells the laid frame that does', () => {
    const own = player();
    const head = new LaidHead(own, SLOW);
    head.goTo(6);
    expect(own.frame).toBe(8);
    expect(head.frame).toBe(6);
    expect(head.laidAt(4.5)).toBeCloseTo(4.25);
  });

  it('finds a frame wherever it plays, held and turned back too', () => {
    const held = new LaidHead(player(), [0, 1, 2, 2, 2, 3, 4]);
    expect([0, 2, 3, 9].map((laid) => held.playedAt(laid))).toEqual([0, 2, 5, 6]);
    expect(held.playedAt(2.6)).toBe(5);
    const back = new LaidHead(player(), [0, 1, 2, 1, 0, 1, 2, 3]);
    expect([1, 2, 3].map((laid) => back.playedAt(laid))).toEqual([1, 2, 7]);
  });

  it('stands by played frames on a lane that keeps its own time, and goes along there', () => {
    const own = player();
    const head = new LaidHead(own, SLOW);
    const straight = head.on({ keeps_own_time: true });
    expect(head.on({ keeps_own_time: false })).toBe(head);
    expect(head.on({ keeps_own_time: true })).toBe(straight);
    head.goTo(6);
    expect(straight.frame).toBe(8);
    straight.goTo(9);
    expect([own.frame, head.frame]).toEqual([9, 7]);
  });

  it('loops the played frames of a laid range', () => {
    const own = player();
    new LaidHead(own, SLOW).setRange({ start: 4, end: 6 });
    expect(own.snapshot().range).toEqual({ start: 4, end: 8 });
  });
});
