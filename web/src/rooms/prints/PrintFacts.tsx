import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { PrintCard } from '../../api/prints';
import { framesSaid, lookSaid, madeSaid, megabytes, seconds } from './said';

interface PrintFactsProps {
  readonly title: string;
  readonly print: PrintCard | null;
  readonly children: ReactNode;
}

/** A print's slate: what it shows, and how. */
export function PrintFacts({ title, print, children }: PrintFactsProps) {
  return (
    <section className="print-facts" aria-label={title}>
      <h3>
        {title} {print && <b className="number">rev {print.revision}</b>}
      </h3>
      {print && (
        <dl>
          <dt>Shows</dt>
          <dd>
            {print.document ? (
              <Link to={`/scenes/${print.document}`}>{print.name}</Link>
            ) : (
              `${print.name}, which is gone`
            )}
          </dd>
          <dt>Frames</dt>
          <dd className="number">{framesSaid(print)}</dd>
          <dt>Length</dt>
          <dd className="number">
            {seconds(print).toFixed(2)} s at {print.rate}
          </dd>
          <dt>Seen</dt>
          <dd>{lookSaid(print)}</dd>
          <dt>Sound</dt>
          <dd>{print.has_sound ? 'mixed' : 'none'}</dd>
          <dt>Made</dt>
          <dd>{madeSaid(print)}</dd>
          <dt>Size</dt>
          <dd className="number">{megabytes(print.size_bytes)}</dd>
        </dl>
      )}
      <div className="print-hands">{children}</div>
    </section>
  );
}
