/**
 * Asks for the newest wish, one at a time: a fast hand never queues up old ones.
 * What cannot be answered is passed over, the last good answer stays; letting go says why.
 */
export class Newest<Wish> {
  /** What is wished for, until it is dropped. */
  wish: Wish | null = null;
  private isAsking = false;

  /** `ask` looks at `wish` before it shows an answer: what was dropped meanwhile is not shown. */
  constructor(private readonly ask: (wish: Wish) => Promise<void>) {}

  /** Whether an answer is still to come for what is wished. */
  get isAwaited(): boolean {
    return this.isAsking && this.wish !== null;
  }

  async want(wish: Wish): Promise<void> {
    this.wish = wish;
    if (this.isAsking) return;
    this.isAsking = true;
    try {
      for (let asked: Wish | null = null; this.wish !== null && this.wish !== asked; ) {
        asked = this.wish;
        await this.ask(asked).catch(() => {});
      }
    } finally {
      this.isAsking = false;
    }
  }

  drop(): void {
    this.wish = null;
  }
}
