/**
 * Steps on their way to the server, one after another, each on the revision that then stands.
 *
 * Nothing made is lost: what cannot be sent waits, is kept in this browser, and is sent when the
 * server is back. A step that comes too late waits for a choice.
 */

import type { Edit, Outcome, Scene } from './useScene';

export type Step =
  | { readonly kind: 'edit'; readonly token: string; readonly edit: Edit }
  | { readonly kind: 'walk'; readonly token: string; readonly way: 'undo' | 'redo' };

/** What came of sending a step. */
export type Sent =
  | { readonly is: 'made'; readonly scene: Scene; readonly outcome: Outcome | null }
  | { readonly is: 'refused'; readonly problem: unknown }
  | { readonly is: 'late'; readonly problem: unknown }
  | { readonly is: 'unreachable' };

export interface LineState {
  readonly waiting: number;
  readonly unreachable: boolean;
  /** The step that came too late, until it is decided whether to make it again. */
  readonly late: Step | null;
}

interface Ends {
  readonly send: (step: Step) => Promise<Sent>;
  readonly onMade: (scene: Scene, outcome: Outcome | null) => void;
  readonly onRefused: (problem: unknown) => void;
  /** See what stands now, before anyone decides. */
  readonly onLate: (step: Step, problem: unknown) => Promise<void>;
  readonly keep: (steps: readonly Step[]) => void;
}

const AGAIN_MS = 1500;

export class EditLine {
  private steps: Step[];
  private running = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private state: LineState = { waiting: 0, unreachable: false, late: null };
  private readonly listeners = new Set<() => void>();

  constructor(
    private readonly ends: Ends,
    kept: readonly Step[] = [],
  ) {
    this.steps = [...kept];
    this.change({ waiting: this.steps.length });
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): LineState => this.state;

  add(step: Step): void {
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

  /** The choice about a step that came too late. */
  decide(again: boolean): void {
    if (!this.state.late) return;
    this.change({ late: null });
    if (!again) this.steps.shift();
    this.settle();
    void this.run();
  }

  private async run(): Promise<void> {
    if (this.running || this.state.late) return;
    this.running = true;
    try {
      while (this.steps.length) {
        const step = this.steps[0];
        const sent = await this.ends.send(step);
        this.change({ unreachable: sent.is === 'unreachable' });
        if (sent.is === 'unreachable') {
          this.timer = setTimeout(this.resume, AGAIN_MS);
          return;
        }
        if (sent.is === 'late') {
          await this.ends.onLate(step, sent.problem);
          if (step.kind === 'edit') {
            this.change({ late: step });
            return;
          }
        }
        this.steps.shift();
        this.settle();
        if (sent.is === 'made') this.ends.onMade(sent.scene, sent.outcome);
        if (sent.is === 'refused') this.ends.onRefused(sent.problem);
      }
    } finally {
      this.running = false;
    }
  }

  private settle(): void {
    this.ends.keep(this.steps);
    this.change({ waiting: this.steps.length });
  }

  private change(part: Partial<LineState>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }
}
