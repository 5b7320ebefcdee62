/**
 * The playhead. It lives outside React's rendering: painters listen to `onFrame` and paint at once;
 * React only hears of what rarely changes (playing, mode, range).
 */

import { Listeners, Store } from '../app/store';

export type PlayMode = 'real time' | 'every frame';

/** Frames `[start, end)` that are played round and round. */
export interface Range {
  readonly start: number;
  readonly end: number;
}

export interface PlayerState {
  readonly playing: boolean;
  readonly mode: PlayMode;
  readonly loop: boolean;
  /** The part that loops; none is the whole scene. */
  readonly range: Range | null;
  /** 1 is as made. */
  readonly speed: number;
  readonly backwards: boolean;
  readonly length: number;
}

/** Frames shown, left out in real time, and waited for, since play began. */
export interface PaintCount {
  readonly painted: number;
  readonly dropped: number;
  readonly waited: number;
  readonly seconds: number;
}

/** What tells the time of real-time play, in milliseconds. */
export interface PlayClock {
  /** Its moment for one of `performance.now()`. */
  at(performanceMs: number): number;
  /** How long after play is begun its first frame is due. */
  readonly leadMs: number;
}

export const PAGE_CLOCK: PlayClock = { at: (performanceMs) => performanceMs, leadMs: 0 };

/** How play goes on from a moment of its clock, `since`, at which `frame` is due: what sound keeps in step with. */
export interface Course {
  readonly frame: number;
  readonly since: number;
  readonly start: number;
  readonly end: number;
  readonly loop: boolean;
  readonly speed: number;
}

export const SPEEDS = [0.25, 0.5, 1, 1.5, 2] as const;

export class Player {
  frame = 0;
  private readonly store = new Store<PlayerState>({
    playing: false,
    loop: true,
    range: null,
    mode: 'real time',
    speed: 1,
    backwards: false,
    length: 1,
  });
  readonly subscribe = this.store.subscribe;
  readonly snapshot = this.store.snapshot;
  private framesPerSecond = 24;
  private readonly frames = new Listeners<[frame: number]>();
  /** Hear of each frame that comes on show. */
  readonly onFrame = this.frames.add;
  private readonly courses = new Listeners<[course: Course | null]>();
  /** Hear how play goes on in real time; none where it stands, waits, goes backwards or takes its time. */
  readonly onCourse = this.courses.add;
  private clock = PAGE_CLOCK;
  private waits = false;
  private request = 0;
  /** When the frame on show was due: a late paint drops frames and never slows the action. */
  private origin = 0;
  private lastStep = 0;
  private since = 0;
  private count = { painted: 0, dropped: 0, waited: 0 };

  /** `isReady` says whether a frame can be painted; play waits for one that cannot. */
  constructor(private readonly isReady: (frame: number) => boolean) {}

  paintCount(): PaintCount {
    const seconds = this.since ? (performance.now() - this.since) / 1000 : 0;
    return { ...this.count, seconds };
  }

  setScene(length: number, framesPerSecond: number): void {
    this.framesPerSecond = framesPerSecond;
    const { range } = this.state;
    if (length !== this.state.length) {
      const end = range && Math.min(range.end, length);
      const kept = range && end && range.start < end ? { start: range.start, end } : null;
      this.store.change({ length, range: kept });
    }
    if (this.frame > length - 1) this.goTo(length - 1);
  }

  /** Another clock from here on. */
  setClock(clock: PlayClock): void {
    if (clock === this.clock) return;
    this.clock = clock;
    this.restart();
  }

  goTo(frame: number): void {
    this.show(Math.max(0, Math.min(this.state.length - 1, Math.round(frame))));
    this.restart();
  }

  step(frames: number): void {
    this.pause();
    this.goTo(this.frame + frames);
  }

  toggle(backwards = false): void {
    if (this.state.playing && this.state.backwards === backwards) this.pause();
    else this.play(backwards);
  }

  play(backwards = false): void {
    const { start, end } = this.bounds();
    const atEnd = backwards ? this.frame <= start : this.frame >= end - 1;
    const outside = this.frame < start || this.frame >= end;
    if (outside || (!this.state.loop && atEnd)) this.show(backwards ? end - 1 : start);
    const going = this.state.playing;
    this.store.change({ playing: true, backwards });
    this.count = { painted: 0, dropped: 0, waited: 0 };
    this.since = performance.now();
    this.waits = false;
    this.restart();
    if (!going) this.request = requestAnimationFrame(this.tick);
  }

  pause(): void {
    if (!this.state.playing) return;
    cancelAnimationFrame(this.request);
    this.store.change({ playing: false });
    this.courses.tell(null);
  }

  setMode(mode: PlayMode): void {
    this.store.change({ mode });
    this.restart();
  }

  setLoop(loop: boolean): void {
    this.store.change({ loop });
    this.tellCourse();
  }

  setRange(range: Range | null): void {
    const { length } = this.state;
    if (!range) {
      this.store.change({ range: null });
      this.tellCourse();
      return;
    }
    const start = Math.max(0, Math.min(length - 1, Math.round(range.start)));
    const end = Math.max(start + 1, Math.min(length, Math.round(range.end)));
    this.store.change({ range: start === 0 && end === length ? null : { start, end } });
    this.restart();
  }

  setSpeed(speed: number): void {
    this.store.change({ speed });
    this.restart();
  }

  /** The next slower or faster of the speeds. */
  shiftSpeed(steps: number): void {
    const here = SPEEDS.findIndex((speed) => speed >= this.state.speed);
    const next = Math.max(0, Math.min(SPEEDS.length - 1, here + steps));
    this.setSpeed(SPEEDS[next]);
  }

  private bounds(): Range {
    return this.state.range ?? { start: 0, end: this.state.length };
  }

  private readonly tick = (now: number): void => {
    const isReal = this.state.mode === 'real time';
    const steps = isReal ? this.framesGone(this.clock.at(now)) : this.stepDue(now);
    if (steps > 0) this.advance(steps);
    if (this.state.playing) this.request = requestAnimationFrame(this.tick);
  };

  private advance(steps: number): void {
    const { start, end } = this.bounds();
    const { loop, backwards } = this.state;
    const length = end - start;
    const place = this.frame - start + (backwards ? -steps : steps);
    if (!loop && (place < 0 || place >= length)) {
      this.show(backwards ? start : end - 1);
      this.pause();
      return;
    }
    const next = start + (((place % length) + length) % length);
    if (!this.isReady(next)) {
      this.count.waited += 1;
      this.waits = true;
      this.restart();
      return;
    }
    this.count.painted += 1;
    this.count.dropped += steps - 1;
    if (this.state.mode === 'real time') {
      const played = (steps * 1000) / (this.framesPerSecond * this.state.speed);
      this.origin += played;
    }
    this.show(next);
    if (!this.waits) return;
    this.waits = false;
    this.restart();
  }

  /**
   * How many frames on the picture should be. A frame late by less than its own time is still
   * shown, and the next one follows sooner; frames are left out only when play is later than that.
   */
  private framesGone(now: number): number {
    const perSecond = this.framesPerSecond * this.state.speed;
    const gone = Math.floor(((now - this.origin) / 1000) * perSecond + 1e-6);
    return gone === 2 ? 1 : gone;
  }

  private stepDue(now: number): number {
    const due = 1000 / (this.framesPerSecond * this.state.speed);
    // A screen that refreshes a hair early must not hold a frame twice.
    if (now - this.lastStep < due - 4) return 0;
    this.lastStep = Math.max(this.lastStep + due, now - due);
    return 1;
  }

  private restart(): void {
    const now = performance.now();
    this.origin = this.clock.at(now) + this.clock.leadMs;
    this.lastStep = now;
    this.tellCourse();
  }

  private tellCourse(): void {
    const { playing, mode, backwards, loop, speed } = this.state;
    const goesOn = playing && mode === 'real time' && !backwards && !this.waits;
    const course = { frame: this.frame, since: this.origin, ...this.bounds(), loop, speed };
    this.courses.tell(goesOn ? course : null);
  }

  private show(frame: number): void {
    this.frame = frame;
    this.frames.tell(frame);
  }

  private get state(): PlayerState {
    return this.store.snapshot();
  }
}
