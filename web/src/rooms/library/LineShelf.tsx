import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { chartQuery } from '../../api/lines';
import { Name } from '../../app/Name';
import { WaveStrip } from '../../app/WaveStrip';
import { MouthPicture } from '../../stage/MouthPicture';

interface LineProps {
  readonly line: Schemas['LineCard'];
  readonly tags: ReactNode;
  readonly menu: ReactNode;
}

/** A line of the library: what is said, and how far it is. */
export function LineCard({ line, tags, menu }: LineProps) {
  const { not_heard: lacks } = line;
  const state = line.is_read
    ? `${line.words} words read`
    : line.text
      ? 'not read yet'
      : 'no text yet';
  return (
    <div className="slip">
      <span className="line">
        <Link className="name" to={`/lines/${line.id}`} title={`${line.name}: its mouths`}>
          {line.name}
        </Link>
        <span className="length number">{line.length_seconds.toFixed(2)} s</span>
      </span>
      <WaveStrip
        sound={line.sound}
        seconds={line.length_seconds}
        label={`${line.name}, as it swings`}
      />
      <Name
        className="quiet said"
        text={line.text ? `“${line.text}”` : 'Nobody has written what is said'}
      />
      <span className="quiet">
        {line.speaker && `${line.speaker}, `}
        {state}
        {lacks > 0 && <b className="is-lacking">, {lacks} not heard</b>}
      </span>
      {tags}
      {menu}
    </div>
  );
}

interface ChartProps {
  readonly chart: Schemas['ChartCard'];
  readonly menu: ReactNode;
  readonly tags: ReactNode;
}

/** A mouth chart of the library, with its first mouths. */
export function ChartCard({ chart, tags, menu }: ChartProps) {
  const read = useQuery(chartQuery(chart.id));
  const mouths = read.data?.chart.mouths ?? [];
  return (
    <div className="slip">
      <span className="line">
        <Name className="name" text={chart.name} />
        <span className="length number">{chart.mouths} drawings</span>
      </span>
      <span className="chart-mouths" role="img" aria-label={`${chart.name}, its first mouths`}>
        {mouths.slice(0, 6).map((mouth) => (
          <MouthPicture key={mouth.key} mouth={mouth} pictures={read.data?.pictures} />
        ))}
      </span>
      <span className="quiet">
        {chart.part}, {chart.view === 'any' ? 'from every side' : chart.view}
      </span>
      {tags}
      {menu}
    </div>
  );
}
