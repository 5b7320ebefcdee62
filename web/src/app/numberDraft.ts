/** What stands in a number's field while it is written, stepped and answered. */

export interface NumberField {
  readonly value: number;
  readonly decimals: number;
  readonly smallest?: number;
  readonly largest?: number;
}

const WIDEST = 1e9;

export class NumberDraft {
  text: string;
  isRefused = false;
  /** Where arrows have gone that no answer has reached yet. */
  private ahead: number | null = null;
  private isWritten = false;

  constructor(field: NumberField) {
    this.text = shownAs(field);
  }

  write(text: string): void {
    this.ahead = null;
    this.isWritten = true;
    this.text = text;
  }

  /** Another value stands: shown, unless something is being written or arrows have gone on from it. */
  answered(field: NumberField): void {
    if (this.isWritten) return;
    if (this.ahead !== null && shownAs({ ...field, value: this.ahead }) !== shownAs(field)) return;
    this.putBack(field);
  }

  /** What was asked was refused: what stands is shown again, unless something is being written. */
  refusedByServer(field: NumberField): void {
    if (!this.isWritten) this.putBack(field);
  }

  putBack(field: NumberField): void {
    this.ahead = null;
    this.isWritten = false;
    this.text = shownAs(field);
    this.isRefused = false;
  }

  /** The field is left: the number to commit, or null when there is nothing new or it is refused. */
  left(field: NumberField): number | null {
    if (!this.isWritten) {
      this.putBack(field);
      return null;
    }
    this.isWritten = false;
    const number = numberIn(this.text);
    this.isRefused = !isWithin(number, field);
    if (this.isRefused) return null;
    if (shownAs({ ...field, value: number }) !== shownAs(field)) return number;
    this.text = shownAs(field);
    return null;
  }

  /** An arrow: it goes on from what is written, or from the arrow before, not from the last answer. */
  stepped(by: number, field: NumberField): number | null {
    const written = this.isWritten ? numberIn(this.text) : Number.NaN;
    const from = this.ahead ?? (isWithin(written, field) ? written : field.value);
    this.isWritten = false;
    const next = from + by;
    this.isRefused = !isWithin(next, field);
    if (this.isRefused) return null;
    this.ahead = next;
    this.text = shownAs({ ...field, value: next });
    return next;
  }
}

export function limitsOf({ smallest, largest }: Pick<NumberField, 'smallest' | 'largest'>): string {
  if (smallest !== undefined && largest !== undefined)
    return `Write a number, ${smallest} to ${largest}.`;
  if (smallest !== undefined) return `Write a number, ${smallest} or more.`;
  return largest === undefined ? 'Write a number.' : `Write a number, ${largest} or less.`;
}

const isWithin = (number: number, { smallest, largest }: NumberField) =>
  Number.isFinite(number) && number >= (smallest ?? -WIDEST) && number <= (largest ?? WIDEST);

/** What is written, with a comma or a point; nothing is no number. */
const numberIn = (text: string): number =>
  text.trim() ? Number(text.trim().replace(',', '.')) : Number.NaN;

/** Without noughts at the end, and without the sign of a nought. */
export function shownAs({ value, decimals }: NumberField): string {
  const text = value.toFixed(decimals);
  const short = decimals ? text.replace(/\.?0+$/, '') : text;
  return short === '-0' ? '0' : short;
}
