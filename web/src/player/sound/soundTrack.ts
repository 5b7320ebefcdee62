/**
 * What is heard of a document, in step with its player. While it sounds it is the player’s clock: the picture
 * goes by what the loudspeaker plays. The core has mixed it; here it is only fetched and played.
 */

import { Trouble } from '../../api/client';
import { Store } from '../../app/store';
import { type Course, PAGE_CLOCK, type PlayClock, type Player } from '../player';
import { heardBetween, PIECE_SECONDS } from './heard';

/** What can be heard: pieces of ten seconds, under a name that changes with them. */
export interface Heard {
  readonly name: string;
  readonly seconds: number;
  readonly framesPerSecond: number;
  /** A piece, played at a pace where that is done with the pitch kept. */
  readonly load: (piece: number, pace: number) => Promise<ArrayBuffer>;
  /** Played slower or faster it keeps its pitch; otherwise it goes down and up as a tape does. */
  readonly keepsPitch?: boolean;
}

export interface TrackState {
  readonly isOn: boolean;
  /** There is something to be heard. */
  readonly isThere: boolean;
}

const RATE_HZ = 48_000;
const AHEAD_MS = 1_500;
const LOOK_EVERY_MS = 100;
const LET_GO_SECONDS = 0.008;
const GRAIN_SECONDS = 0.05;
const SAFE_MS = 15;
const PIECES_KEPT = 24;
const ASK_AGAIN_MS = 2_000;
const LOOKS_WITHOUT_SOUND = 10;

export class SoundTrack implements PlayClock {
  private readonly store = new Store<TrackState>({ isOn: true, isThere: false });
  readonly subscribe = this.store.subscribe;
  readonly snapshot = this.store.snapshot;
  private context: AudioContext | null = null;
  private out: GainNode | null = null;
  private heard: Heard | null = null;
  private course: Course | null = null;
  /** Pieces by their pace and number. */
  private pieces = new Map<string, AudioBuffer>();
  private readonly asked = new Set<string>();
  /** Everything of one course goes through one gain, so that it can be let go at once without a click. */
  private playing: GainNode | null = null;
  private scheduledTo = 0;
  private tellsTime = false;
  private reached = 0;
  private stoodStill = 0;
  private timer = 0;
  private offs: readonly (() => void)[] = [];

  constructor(
    private readonly player: Player,
    private readonly onTrouble: (problem: unknown) => void,
  ) {}

  open(): void {
    const wake = () => this.wake();
    window.addEventListener('pointerdown', wake, true);
    window.addEventListener('keydown', wake, true);
    this.offs = [
      this.player.onCourse((course) => this.follow(course)),
      this.player.onFrame((frame) => this.scrub(frame)),
      () => window.removeEventListener('pointerdown', wake, true),
      () => window.removeEventListener('keydown', wake, true),
    ];
  }

  close(): void {
    for (const off of this.offs) off();
    this.offs = [];
    this.follow(null);
    this.player.setClock(PAGE_CLOCK);
    void this.context?.close();
    this.context = null;
    this.pieces.clear();
    this.asked.clear();
  }

  setOn(isOn: boolean): void {
    this.store.change({ isOn });
    if (this.context && this.out)
      this.out.gain.setTargetAtTime(isOn ? 1 : 0, this.context.currentTime, LET_GO_SECONDS);
  }

  setHeard(heard: Heard | null): void {
    if (heard?.name === this.heard?.name) return;
    this.heard = heard;
    this.pieces = new Map();
    this.asked.clear();
    this.store.change({ isThere: heard !== null });
    this.keepTime();
    if (this.context && heard) this.want(this.player.frame / heard.framesPerSecond);
    // Another sound from here on, in the same step.
    if (this.course) this.follow(this.course);
  }

  /** The moment that a loudspeaker has reached, for one of the page’s clock; both in milliseconds. */
  at(performanceMs: number): number {
    if (!this.context) return performanceMs;
    const { contextTime = 0, performanceTime = 0 } = this.context.getOutputTimestamp();
    if (!performanceTime) return this.context.currentTime * 1000;
    return contextTime * 1000 + (performanceMs - performanceTime);
  }

  /** What is asked of the loudspeaker now is heard so much later. */
  get leadMs(): number {
    if (!this.context) return 0;
    const behind = this.context.currentTime * 1000 - this.at(performance.now());
    return Math.max(0, behind) + SAFE_MS;
  }

  /** Browsers let a page sound only after a press in it. */
  private wake(): void {
    if (!this.heard) return;
    if (!this.context) {
      this.context = new AudioContext({ sampleRate: RATE_HZ, latencyHint: 'interactive' });
      this.context.onstatechange = () => this.keepTime();
      this.out = new GainNode(this.context, { gain: this.store.snapshot().isOn ? 1 : 0 });
      this.out.connect(this.context.destination);
      this.want(this.player.frame / this.heard.framesPerSecond);
    }
    if (this.context.state === 'suspended') void this.context.resume();
  }

  /** Whoever can be heard tells the time. */
  private keepTime(): void {
    this.tellsTime = this.heard !== null && this.context?.state === 'running';
    this.stoodStill = 0;
    this.player.setClock(this.tellsTime ? this : PAGE_CLOCK);
  }

  /** A loudspeaker that is there and does not run would hold up the picture: it goes on in silence. */
  private mindTheClock(context: AudioContext): void {
    this.stoodStill = context.currentTime > this.reached ? 0 : this.stoodStill + 1;
    this.reached = context.currentTime;
    if (this.stoodStill < LOOKS_WITHOUT_SOUND) return;
    this.tellsTime = false;
    this.player.setClock(PAGE_CLOCK);
  }

  /** Go along with play from here on, or be silent. */
  private follow(course: Course | null): void {
    this.course = course;
    window.clearInterval(this.timer);
    this.letGo(this.playing);
    this.playing = null;
    if (!course || !this.tellsTime) return;
    this.playing = this.throughGain(1);
    this.scheduledTo = course.since;
    this.schedule();
    this.timer = window.setInterval(() => {
      this.schedule();
      if (this.context) this.mindTheClock(this.context);
    }, LOOK_EVERY_MS);
  }

  private schedule(): void {
    const { course, context, heard, playing } = this;
    if (!course || !context || !heard || !playing) return;
    const now = context.currentTime * 1000;
    const from = Math.max(this.scheduledTo, now);
    const until = now + AHEAD_MS;
    for (const stretch of heardBetween(course, heard.framesPerSecond, from, until)) {
      const buffer = this.piece(stretch.piece, this.paceOf(course));
      // What is on its way is heard from where play is when it comes.
      if (!buffer) break;
      this.sound(buffer, playing, stretch.at / 1000, stretch.offset, stretch.seconds, course.speed);
      this.scheduledTo = stretch.at + (stretch.seconds / course.speed) * 1000;
    }
    this.want(this.player.frame / heard.framesPerSecond + PIECE_SECONDS / 2, this.paceOf(course));
  }

  /** The pace of the pieces themselves; at any other one they are played slower or faster. */
  private paceOf(course: Course): number {
    return this.heard?.keepsPitch ? course.speed : 1;
  }

  private sound(
    buffer: AudioBuffer,
    through: AudioNode,
    when: number,
    offset: number,
    seconds: number,
    speed: number,
  ): void {
    if (!this.context) return;
    // A piece that keeps its pitch is as long as it is played.
    const within = this.heard?.keepsPitch ? 1 : speed;
    const drawnOut = within / speed;
    const source = new AudioBufferSourceNode(this.context, { buffer, playbackRate: within });
    source.connect(through);
    // On a sample: two pieces that follow each other leave no gap.
    const onSample = (at: number) => Math.round(at * RATE_HZ) / RATE_HZ;
    const [from, lasts] = [onSample(offset * drawnOut), onSample(seconds * drawnOut)];
    if (from < buffer.duration) source.start(Math.max(0, onSample(when)), from, lasts);
  }

  /** While one scrubs or steps, each frame is heard as long as it lasts. */
  private scrub(frame: number): void {
    const { context, heard } = this;
    if (!heard || context?.state !== 'running' || this.player.snapshot().playing) return;
    this.letGo(this.playing);
    const seconds = frame / heard.framesPerSecond;
    const piece = Math.floor(seconds / PIECE_SECONDS);
    const buffer = this.piece(piece, 1);
    if (!buffer) return;
    const lasts = Math.max(1 / heard.framesPerSecond, GRAIN_SECONDS);
    const gain = this.throughGain(0);
    const now = context.currentTime;
    gain.gain.setValueAtTime(0, now);
    gain.gain.linearRampToValueAtTime(1, now + LET_GO_SECONDS / 2);
    gain.gain.setValueAtTime(1, now + lasts - LET_GO_SECONDS / 2);
    gain.gain.linearRampToValueAtTime(0, now + lasts);
    this.sound(buffer, gain, now, seconds - piece * PIECE_SECONDS, lasts, 1);
    this.playing = gain;
  }

  private throughGain(gain: number): GainNode {
    const context = this.context as AudioContext;
    const node = new GainNode(context, { gain });
    if (this.out) node.connect(this.out);
    return node;
  }

  private letGo(gain: GainNode | null): void {
    if (!gain || !this.context) return;
    const now = this.context.currentTime;
    gain.gain.cancelScheduledValues(now);
    gain.gain.setTargetAtTime(0, now, LET_GO_SECONDS / 4);
    window.setTimeout(() => gain.disconnect(), 40);
  }

  private want(seconds: number, pace = 1): void {
    this.piece(Math.floor(Math.max(0, seconds) / PIECE_SECONDS), pace);
  }

  /** A piece that is here; otherwise it is asked for. */
  private piece(piece: number, pace: number): AudioBuffer | null {
    const name = `${pace} ${piece}`;
    const found = this.pieces.get(name);
    if (found) {
      // Those asked for last are let go last.
      this.pieces.delete(name);
      this.pieces.set(name, found);
      return found;
    }
    void this.fetch(piece, pace, name);
    return null;
  }

  private async fetch(piece: number, pace: number, name: string): Promise<void> {
    const { heard, context } = this;
    if (!heard || !context || this.asked.has(name)) return;
    if (piece * PIECE_SECONDS >= heard.seconds) return;
    this.asked.add(name);
    try {
      const buffer = await context.decodeAudioData(await heard.load(piece, pace));
      if (this.heard !== heard) return;
      this.pieces.set(name, buffer);
      this.asked.delete(name);
      for (const old of [...this.pieces.keys()].slice(0, -PIECES_KEPT)) this.pieces.delete(old);
      this.schedule();
    } catch (problem) {
      if (this.heard !== heard) return;
      // What failed once would fail at each look; but a server that was not there may be back soon.
      if (problem instanceof Trouble && problem.isUnreachable)
        window.setTimeout(() => this.asked.delete(name), ASK_AGAIN_MS);
      else this.onTrouble(problem);
    }
  }
}
