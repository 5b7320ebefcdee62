import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { throwOldAway } from '../../api/nightList';
import { type PrintCard, printsQuery } from '../../api/prints';
import { counted } from '../../app/counted';
import { useNotices } from '../../app/notices';
import { megabytes } from './said';

const AGES_DAYS = [7, 30, 90] as const;
const DAY_MS = 24 * 3600 * 1000;

interface OldPrintsProps {
  readonly production: string;
  readonly prints: readonly PrintCard[];
}

/** Throwing away what is old: how much it is is said first, and a second press does it. */
export function OldPrints({ production, prints }: OldPrintsProps) {
  const queries = useQueryClient();
  const notices = useNotices();
  const [days, setDays] = useState<number | null>(null);
  const before = Date.now() - (days ?? 0) * DAY_MS;
  const old = days === null ? [] : prints.filter(({ created }) => Date.parse(created) < before);
  const space = megabytes(old.reduce((sum, { size_bytes }) => sum + size_bytes, 0));
  const throwThem = () => {
    if (days === null) return;
    throwOldAway(production, days)
      .then(
        (gone) =>
          notices.say(
            `${counted(gone.prints, 'print')} thrown away: ${megabytes(gone.size_bytes)} are free again.`,
          ),
        notices.trouble,
      )
      .finally(() => queries.invalidateQueries(printsQuery(production)));
    setDays(null);
  };
  return (
    <span className="old-prints">
      <select
        className="form-select"
        aria-label="Throw away by age"
        value={days ?? ''}
        onChange={({ target }) => setDays(target.value === '' ? null : Number(target.value))}
      >
        <option value="">Throw away by age …</option>
        {AGES_DAYS.map((age) => (
          <option key={age} value={age}>
            older than {age} days
          </option>
        ))}
      </select>
      {days !== null && old.length === 0 && <span className="quiet">None is that old.</span>}
      {old.length > 0 && (
        <button
          type="button"
          className="btn btn-lamp"
          title="It cannot be undone"
          onClick={throwThem}
        >
          Throw {old.length} away, {space}
        </button>
      )}
    </span>
  );
}
