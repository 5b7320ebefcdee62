/**
 * Steps on their way to the server, one after another, each on the revision that then stands.
 *
 * Nothing made is lost: what cannot be sent waits, is kept in this browser, and is sent when the
 * server is back, or the person is. A step that comes too late, or is answered with trouble that is not
 * its own, waits for a choice.
 */

import { Store } from '../../app/store';

export type Step<Edit> =
  | {
      readonly kind: 'edit';
      readonly token: string;
      readonly edit: Edit;
      /** It is about what the step before it was about, wherever that lies then. */
      readonly follows?: true;
    }
  | { readonly kind: 'walk'; readonly token: string; readonly way: 'undo' | 'redo' };

/** What came of sending a step. */
export type Sent<Outcome> =
  | { readonly is: 'made'; readonly outcome: Outcome }
  | { readonly is: 'refused'; readonly problem: unknown }
  | { readonly is: 'late'; readonly problem: unknown }
  /** Something went wrong that is no fault of the step's. */
  | { readonly is: 'stuck'; readonly problem: unknown }
  | { readonly is: 'signedOut' }
  | { readonly is: 'unreachable' };

export interface LineState<Edit = unknown> {
  readonly waiting: number;
  readonly unreachable: boolean;
  /** Nobody is signed in whose steps these are. */
  readonly signedOut: boolean;
  /** Why the first step could not be saved, until it is decided what becomes of it. */
  readonly stuck: { readonly problem: unknown } | null;
  /** The step that came too late, until it is decided whether to make it again. */
  readonly late: Step<Edit> | null;
}

interface Ends<Outcome, Edit> {
  /** `before` is what came of the step right before it; none where that one was not made. */
  readonly send: (step: Step<Edit>, before: Outcome | null) => Promise<Sent<Outcome>>;
  readonly onMade: (outcome: Outcome) => void;
  readonly onRefused: (problem: unknown) => void;
  /** See what stands now, before anyone decides. */
  readonly onLate: (step: Step<Edit>, problem: unknown) => Promise<void>;
  readonly keep: (steps: readonly Step<Edit>[]) => void;
}

const AGAIN_MS = 1500;

export class EditLine<Outcome, Edit> {
  private steps: Step<Edit>[];
  private running = false;
  private before: Outcome | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly store = new Store<LineState<Edit>>({
    waiting: 0,
    unreachable: false,
    signedOut: false,
    stuck: null,
    late: null,
  });
  readonly subscribe = this.store.subscribe;
  readonly snapshot = this.store.snapshot;

  constructor(
    private readonly ends: Ends<Outcome, Edit>,
    kept: readonly Step<Edit>[] = [],
  ) {
    this.steps = [...kept];
    this.store.change({ waiting: this.steps.length });
  }

  add(step: Step<Edit>): void {
    this.steps.push(step);
    this.settle();
    void this.run();
  }

  /** Go on with what waits: after a reload, or at once when the server may be back. */
  readonly resume = (): void => {
    clearTimeout(this.timer);
    void this.run();
  };

  readonly stop = (): void => clearTimeout(this.timer);

  /** Everything that waits, as it is kept. */
  get kept(): readonly Step<Edit>[] {
    return this.steps;
  }

  /** The choice about a step that could not be saved: once more, or without it. */
  readonly unstick = (again: boolean): void => {
    if (!this.store.snapshot().stuck) return;
    this.store.change({ stuck: null });
    if (!again) this.steps.shift();
    this.settle();
    void this.run();
  };

  /** The choice about a step that came too late. */
  decide(again: boolean): void {
    if (!this.store.snapshot().late) return;
    this.store.change({ late: null });
    if (!again) this.steps.shift();
    this.settle();
    void this.run();
  }

  private async run(): Promise<void> {
    const { late, stuck } = this.store.snapshot();
    if (this.running || late || stuck) return;
    this.running = true;
    try {
      while (this.steps.length) {
        const step = this.steps[0];
        const sent = await this.ends.send(step, this.before);
        this.store.change({
          unreachable: sent.is === 'unreachable',
          signedOut: sent.is === 'signedOut',
          stuck: sent.is === 'stuck' ? { problem: sent.problem } : null,
        });
        if (sent.is === 'signedOut' || sent.is === 'stuck') return;
        if (sent.is === 'unreachable') {
          this.timer = setTimeout(this.resume, AGAIN_MS);
          return;
        }
        this.before = sent.is === 'made' ? sent.outcome : null;
        if (sent.is === 'late') {
          await this.ends.onLate(step, sent.problem);
          if (step.kind === 'edit') {
            this.store.change({ late: step });
            return;
          }
        }
        this.steps.shift();
        this.settle();
        if (sent.is === 'made') this.ends.onMade(sent.outcome);
        if (sent.is === 'refused') this.ends.onRefused(sent.problem);
      }
    } finally {
      this.running = false;
    }
  }

  private settle(): void {
    this.ends.keep(this.steps);
    this.store.change({ waiting: this.steps.length });
  }
}
