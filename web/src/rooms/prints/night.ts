/** When the night list begins, and what its rows say. */

import type { PrintRow } from '../../api/nightList';

/** One in the morning, where the page is. */
const NIGHT_HOUR = 1;

/** The next night’s beginning. */
export function tonight(now: Date): Date {
  const night = new Date(now);
  night.setHours(NIGHT_HOUR, 0, 0, 0);
  if (night <= now) night.setDate(night.getDate() + 1);
  return night;
}

const clock = (moment: Date): string =>
  moment.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });

/** Ten seconds, four minutes, two hours: as one would say it. */
export function spanSaid(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  return `${(seconds / 3600).toFixed(1)} h`;
}

/** What there is to say of a row: how far it is, what it waits for, or why it came to nothing. */
export function rowSaid(row: PrintRow, now: Date): string {
  if (row.state === 'refused') return row.says;
  if (row.state === 'cancelled') return 'taken back';
  if (row.is_cancelled) return 'Stopping …';
  if (row.state === 'running') return `${Math.floor((100 * row.figure) / row.of)} % done`;
  if (row.is_held) return 'held';
  const until = row.not_before === null ? null : new Date(row.not_before);
  return until && until > now ? `waits until ${clock(until)}` : 'waits for its turn';
}

/** How long it takes yet, and how fast it goes. */
export function paceSaid(row: PrintRow): string {
  if (row.seconds_left === null || row.frames_per_second === null) return '';
  return `${spanSaid(row.seconds_left)} left, ${row.frames_per_second.toFixed(1)} fps`;
}

/** The order with a row one place earlier or later among those that wait. */
export function movedBy(
  rows: readonly PrintRow[],
  id: string,
  places: -1 | 1,
): readonly string[] | null {
  const waiting = rows.filter(({ state }) => state === 'waiting').map((row) => row.id);
  const here = waiting.indexOf(id);
  const there = here + places;
  if (here < 0 || there < 0 || there >= waiting.length) return null;
  [waiting[here], waiting[there]] = [waiting[there], waiting[here]];
  return waiting;
}
