/** What lives outside React's rendering, and is watched. */

/** Those who listen, and telling them. */
export class Listeners<Told extends unknown[] = []> {
  private readonly all = new Set<(...told: Told) => void>();

  /** Listen until what is returned is called. */
  readonly add = (listener: (...told: Told) => void): (() => void) => {
    this.all.add(listener);
    return () => this.all.delete(listener);
  };

  tell(...told: Told): void {
    for (const listener of this.all) listener(...told);
  }
}

/** A state that changes by parts; `subscribe` and `snapshot` are what React's external stores want. */
export class Store<State extends object> {
  private readonly listeners = new Listeners();
  readonly subscribe = this.listeners.add;

  constructor(private state: State) {}

  readonly snapshot = (): State => this.state;

  change(part: Partial<State>): void {
    this.state = { ...this.state, ...part };
    this.listeners.tell();
  }
}
