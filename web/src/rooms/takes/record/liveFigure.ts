/** Who is captured now, outside React's rendering: painters hear of every frame. */

import type { FramePack, PosedFigure } from '../../../api/framePack';
import { poseIn } from '../../../api/framePack';
import { eachLiveFrame } from '../../../api/stage';
import { Listeners } from '../../../app/store';

export const LIVE = 'live';
const AGAIN_MS = 800;
/** How much one frame counts in what is told of how far behind they are. */
const WEIGHT = 0.1;

export class LiveFigure {
  pose: PosedFigure | null = null;
  /** How far the picture is behind the stage, in milliseconds; null before its first frame. */
  behindMs: number | null = null;
  private readonly listeners = new Listeners();
  /** Hear of frames that have come. */
  readonly onFrames = this.listeners.add;
  private newest: FramePack | null = null;
  private readonly ended = new AbortController();

  /** `began`: when the stage's clock stood at zero, in seconds since 1970. */
  constructor(
    private readonly production: string,
    private readonly began: number,
    private readonly onGone: () => void,
  ) {}

  /** Watch until `stop`; a stream that ends is asked for again. */
  async watch(): Promise<void> {
    const { signal } = this.ended;
    while (!signal.aborted) {
      let came = 0;
      try {
        await eachLiveFrame(this.production, signal, (pack) => {
          came += 1;
          this.show(pack);
        });
      } catch {
        if (signal.aborted) return;
        this.onGone();
      }
      // The stage is gone, or enough others watch it already.
      if (!came) await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
    }
  }

  stop(): void {
    this.ended.abort();
  }

  private show(pack: FramePack): void {
    if (!this.newest) requestAnimationFrame(this.paint);
    this.newest = pack;
  }

  /** Frames come quicker than some machines paint: the newest is painted, the others are passed over. */
  private readonly paint = () => {
    const pack = this.newest;
    this.newest = null;
    if (!pack || this.ended.signal.aborted) return;
    this.pose = poseIn(pack, LIVE, 0);
    this.listeners.tell();
    const behind = Date.now() - 1000 * (this.began + Number(pack.metadata.clock));
    this.behindMs =
      this.behindMs === null ? behind : this.behindMs + WEIGHT * (behind - this.behindMs);
  };
}
