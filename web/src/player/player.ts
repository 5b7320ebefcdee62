/**
 * The playhead. It lives outside React's rendering: painters listen to `onFrame` and paint at once;
 * React only hears of what rarely changes (playing, mode, range).
 */

export type PlayMode = 'real time' | 'every frame';

export interface PlayerState {
  readonly playing: boolean;
  readonly mode: PlayMode;
  readonly loop: boolean;
  readonly length: number;
}

type FrameListener = (frame: number) => void;

export class Player {
  frame = 0;
  private state: PlayerState = { playing: false, loop: true, mode: 'real time', length: 1 };
  private framesPerSecond = 24;
  private readonly frameListeners = new Set<FrameListener>();
  private readonly stateListeners = new Set<() => void>();
  private request = 0;
  /** Real time counts from here, so that a late paint drops frames and never slows the action. */
  private origin = { time: 0, frame: 0 };
  private lastStep = 0;

  /** `isReady` says whether a frame can be painted; play waits for one that cannot. */
  constructor(private readonly isReady: (frame: number) => boolean) {}

  readonly subscribe = (listener: () => void): (() => void) => {
    this.stateListeners.add(listener);
    return () => this.stateListeners.delete(listener);
  };

  readonly snapshot = (): PlayerState => this.state;

  onFrame(listener: FrameListener): () => void {
    this.frameListeners.add(listener);
    return () => this.frameListeners.delete(listener);
  }

  setScene(length: number, framesPerSecond: number): void {
    this.framesPerSecond = framesPerSecond;
    if (length !== this.state.length) this.change({ length });
    if (this.frame > length - 1) this.goTo(length - 1);
  }

  goTo(frame: number): void {
    this.show(Math.max(0, Math.min(this.state.length - 1, Math.round(frame))));
    this.restart();
  }

  step(frames: number): void {
    this.pause();
    this.goTo(this.frame + frames);
  }

  toggle(): void {
    if (this.state.playing) this.pause();
    else this.play();
  }

  play(): void {
    if (this.state.playing) return;
    if (!this.state.loop && this.frame >= this.state.length - 1) this.show(0);
    this.change({ playing: true });
    this.restart();
    this.request = requestAnimationFrame(this.tick);
  }

  pause(): void {
    if (!this.state.playing) return;
    cancelAnimationFrame(this.request);
    this.change({ playing: false });
  }

  setMode(mode: PlayMode): void {
    this.change({ mode });
    this.restart();
  }

  setLoop(loop: boolean): void {
    this.change({ loop });
  }

  private readonly tick = (now: number): void => {
    const next = this.state.mode === 'real time' ? this.frameAt(now) : this.nextFrame(now);
    if (next !== this.frame) {
      if (!this.state.loop && next < this.frame) {
        this.show(this.state.length - 1);
        this.pause();
        return;
      }
      if (this.isReady(next)) this.show(next);
      else this.restart();
    }
    if (this.state.playing) this.request = requestAnimationFrame(this.tick);
  };

  private frameAt(now: number): number {
    const gone = Math.floor(((now - this.origin.time) / 1000) * this.framesPerSecond + 1e-6);
    return (this.origin.frame + Math.max(0, gone)) % this.state.length;
  }

  private nextFrame(now: number): number {
    const due = 1000 / this.framesPerSecond;
    // A screen that refreshes a hair early must not hold a frame twice.
    if (now - this.lastStep < due - 4) return this.frame;
    this.lastStep = Math.max(this.lastStep + due, now - due);
    return (this.frame + 1) % this.state.length;
  }

  private restart(): void {
    this.origin = { time: performance.now(), frame: this.frame };
    this.lastStep = performance.now();
  }

  private show(frame: number): void {
    this.frame = frame;
    for (const listener of this.frameListeners) listener(frame);
  }

  private change(part: Partial<PlayerState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.stateListeners) listener();
  }
}
