import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { sentence } from '../../../api/client';
import { type Cycle, findCycles } from '../../../api/takes';
import { NumberBox } from '../../../app/controls';
import type { TakesRoomParts } from '../room';
import { withTakesKey } from '../takesKeys';
import type { Method, TakeHands } from '../useTakeActions';
import { SimilarityMap } from './SimilarityMap';

interface CardProps {
  readonly room: TakesRoomParts;
  readonly hands: TakeHands;
}

const METHODS: readonly { readonly value: Method; readonly text: string }[] = [
  { value: 'overlap', text: 'overlap' },
  { value: 'spread', text: 'spread the gap' },
  { value: 'through', text: 'ease through' },
  { value: 'match', text: 'match ends' },
];
const RINGED = 6;

/** Find a cycle: the take against itself, its best loops ringed; one of them plays, and goes to the bench. */
export function CycleCard({ room, hands }: CardProps) {
  const { take, cleaned, looked, loop, onLoop } = room;
  const [lengths, setLengths] = useState<readonly [number, number] | null>(null);
  const [method, setMethod] = useState<Method>('overlap');
  const fps = cleaned?.frames_per_second ?? 24;
  const [shortest, longest] = lengths ?? [Math.round(0.4 * fps), Math.round(2 * fps)];
  const found = useQuery({
    queryKey: ['cycles', take.id, take.content, looked.from_frame, shortest, longest],
    queryFn: ({ signal }) => findCycles(take.id, { ...looked, shortest, longest }, signal),
    // While a number is drawn the map would only chase it.
    enabled: cleaned !== null && looked.edit === null,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const cycles = found.data?.cycles ?? [];
  // Another recipe gives other loops: what was ringed may be none any more.
  useEffect(() => {
    if (!found.data || found.isPlaceholderData || !loop) return;
    const still = found.data.cycles.some((one) => same(one, loop));
    if (!still) onLoop(null);
  }, [found.data, found.isPlaceholderData, loop, onLoop]);
  const at = cleaned?.at ?? [];
  return (
    <>
      <div className="card-line">
        <h2>Find a cycle</h2>
        <span className="grow" />
        <span className="quiet">far</span>
        <i className="heat-ramp" />
        <span className="quiet">close</span>
      </div>
      {found.data && (
        <SimilarityMap found={found.data} at={at} loop={loop} most={RINGED} onLoop={onLoop} />
      )}
      {found.error && <p className="refusal">{sentence(found.error)}</p>}
      <p className="card-line">
        of
        <NumberBox
          label="Frames of the shortest"
          value={shortest}
          smallest={2}
          largest={longest}
          onCommit={(value) => setLengths([Math.round(value), longest])}
        />
        to
        <NumberBox
          label="Frames of the longest"
          value={longest}
          unit="fr"
          smallest={shortest}
          largest={100_000}
          onCommit={(value) => setLengths([shortest, Math.round(value)])}
        />
      </p>
      <table className="loop-table">
        <thead>
          <tr>
            <th scope="col">
              <span className="visually-hidden">Number</span>
            </th>
            <th scope="col">source</th>
            <th scope="col">length</th>
            <th scope="col">seam</th>
          </tr>
        </thead>
        <tbody>
          {cycles.slice(0, RINGED).map((one, place) => (
            <tr
              key={`${one.start} ${one.end}`}
              className={loop && same(loop, one) ? 'is-chosen' : ''}
            >
              <td>
                <button
                  type="button"
                  className="loop-number"
                  aria-pressed={loop !== null && same(loop, one)}
                  aria-label={`Play loop ${place + 1}: ${one.length_frames} frames, seam ${one.seam_degrees.toFixed(1)} degrees`}
                  onClick={() => onLoop(loop && same(loop, one) ? null : one)}
                >
                  {place + 1}
                </button>
              </td>
              <td className="number">
                {Math.round(at[one.start] ?? 0)} to {Math.round(at[one.end] ?? 0)}
              </td>
              <td className="number">{one.length_frames} fr</td>
              <td className="number">
                {one.seam_degrees.toFixed(1)}° {one.seam_cm.toFixed(1)} cm
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.data?.says && <p className="quiet">{found.data.says}</p>}
      {take.may_change && (
        <div className="to-bench">
          <select
            className="form-select"
            aria-label="How its seam is closed"
            value={method}
            onChange={(event) => setMethod(event.target.value as Method)}
          >
            {METHODS.map((one) => (
              <option key={one.value} value={one.value}>
                {one.text}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="btn btn-lamp"
            disabled={!loop || hands.isMaking}
            title={withTakesKey('A closed cycle of keys, its feet held', 'toBench')}
            onClick={() => hands.toBench(method, 6)}
          >
            {loop ? `Take loop ${placeOf(cycles, loop)} to the bench` : 'Press a loop to see it'}
          </button>
        </div>
      )}
    </>
  );
}

const same = (a: Cycle, b: Cycle) => a.start === b.start && a.end === b.end;

const placeOf = (cycles: readonly Cycle[], loop: Cycle) =>
  cycles.findIndex((one) => same(one, loop)) + 1 || '';
