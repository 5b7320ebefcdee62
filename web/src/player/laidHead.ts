/**
 * The playhead by the laid ruler: the frame that lies on the lanes under what plays. Where the scene’s
 * elastic is straight both rulers are one.
 */

import type { Player, PlayerState, Range } from './player';

/** Laid frames by played ones, as the core worked them out. */
type Laid = readonly number[] | null;

export class LaidHead {
  constructor(
    private readonly player: Player,
    private readonly laid: Laid,
  ) {}

  private onward: boolean | null = null;
  private straight: LaidHead | null = null;

  /** The same playhead as it stands on a lane: by played frames where that keeps its own time. */
  on(lane: { readonly keeps_own_time: boolean }): LaidHead {
    if (!lane.keeps_own_time || this.isStraight) return this;
    this.straight ??= new LaidHead(this.player, null);
    return this.straight;
  }

  readonly subscribe = (hear: () => void): (() => void) => this.player.subscribe(hear);
  readonly snapshot = (): PlayerState => this.player.snapshot();

  /** The played frame. */
  get played(): number {
    return this.player.frame;
  }

  /** The whole laid frame under the playhead. */
  get frame(): number {
    return Math.round(this.laidAt(this.player.frame));
  }

  get isStraight(): boolean {
    return this.laid === null;
  }

  /** What is laid at a played frame. */
  laidAt(played: number): number {
    if (!this.laid?.length) return played;
    const place = Math.max(0, Math.min(this.laid.length - 1, Math.floor(played)));
    const next = this.laid[place + 1] ?? this.laid[place] + 1;
    return this.laid[place] + (next - this.laid[place]) * (played - place);
  }

  /** The played frame at which a laid one shows, or is nearest to showing; the first of several. */
  playedAt(laid: number): number {
    if (!this.laid) return laid;
    if (this.goesOn) return this.nearest(this.laid, laid);
    let best = 0;
    for (const [played, at] of this.laid.entries())
      if (Math.abs(at - laid) < Math.abs(this.laid[best] - laid) - 1e-6) best = played;
    return best;
  }

  /** Whether time never turns back: then a frame is found by halving. */
  private get goesOn(): boolean {
    this.onward ??= this.laid?.every((at, k, all) => k === 0 || at >= all[k - 1]) ?? true;
    return this.onward;
  }

  private nearest(all: readonly number[], laid: number): number {
    let [low, high] = [0, all.length - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (all[middle] >= laid - 1e-6) high = middle;
      else low = middle + 1;
    }
    const isBefore = low > 0 && laid - all[low - 1] < all[low] - laid - 1e-6;
    return isBefore ? low - 1 : low;
  }

  /** The played frame before which laid time that ends here has played. */
  playedEnd(laid: number): number {
    if (!this.laid) return laid;
    const after = this.laid.findIndex((at) => at >= laid - 1e-6);
    return after < 0 ? this.laid.length : after;
  }

  pause(): void {
    this.player.pause();
  }

  goToPlayed(played: number): void {
    this.player.goTo(played);
  }

  goTo(laid: number): void {
    this.player.goTo(this.playedAt(laid));
  }

  /** The frames that loop, told by the laid ruler. */
  setRange(range: Range | null): void {
    this.player.setRange(
      range && { start: this.playedAt(range.start), end: this.playedEnd(range.end) },
    );
  }

  /** Hear of each played frame that comes on show. */
  onFrame(hear: (played: number) => void): () => void {
    return this.player.onFrame(hear);
  }
}
