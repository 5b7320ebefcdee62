import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { PrintCard } from '../../api/prints';
import { framesSaid, isFilm, lengthSaid, lookSaid, madeSaid, megabytes } from './said';

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
            {print.document && print.kind ? (
              <Link to={`/${print.kind}s/${print.document}`}>{print.name}</Link>
            ) : (
              `${print.name}, which is gone`
            )}
          </dd>
          <dt>Frames</dt>
          <dd className="number">{framesSaid(print)}</dd>
          {lengthSaid(print) && (
            <>
              <dt>Length</dt>
              <dd className="number">
                {lengthSaid(print)} at {print.rate}
              </dd>
            </>
          )}
          {(print.captured || print.beside !== null) && (
            <>
              <dt>Beside it</dt>
              <dd>{print.captured ? 'what was captured' : `revision ${print.beside}`}</dd>
            </>
          )}
          <dt>Seen</dt>
          <dd>{lookSaid(print)}</dd>
          {isFilm(print) && (
            <>
              <dt>Sound</dt>
              <dd>{print.has_sound ? 'mixed' : 'none'}</dd>
            </>
          )}
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
