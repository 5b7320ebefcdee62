import { useQuery } from '@tanstack/react-query';
import { answered, api, sentence } from '../../api/client';
import { CardHead } from '../../app/CardHead';
import type { DocumentState } from './useDocument';
import type { History } from './useHistory';

interface HistoryProps {
  readonly standing: {
    readonly id: string;
    readonly revision: number;
    readonly may_change: boolean;
  };
  readonly history: History<unknown>;
  readonly state: Pick<DocumentState<unknown, unknown>, 'goBack'>;
}

/** Every saved step, the newest first: look at any, go back to any. */
export function HistoryCard({ standing, history, state }: HistoryProps) {
  const { looked, look } = history;
  const steps = useQuery({
    queryKey: ['history', standing.id, standing.revision],
    queryFn: () =>
      answered(
        api.GET('/api/documents/{document_id}/history', {
          params: { path: { document_id: standing.id } },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <aside className="side" aria-label="History">
      <CardHead title="History" onClose={history.close} />
      <div className="body">
        <p className="quiet">
          Press a step to look at it. Going back adds a step; nothing made since is lost.
        </p>
        {steps.isError && <p className="refusal">{sentence(steps.error)}</p>}
        <ol className="history">
          {steps.data?.map((row) => (
            <li
              key={row.number}
              className={`${row.stands ? 'is-standing' : ''} ${row.number === looked ? 'is-looked' : ''}`}
            >
              <button
                type="button"
                aria-current={row.number === (looked ?? standing.revision) ? 'step' : undefined}
                onClick={() => look(row.stands ? null : row.number)}
              >
                <span className="number rev">{row.number}</span>
                <span className="label" title={row.label}>
                  {row.label}
                </span>
                <span className="quiet">
                  {row.author}, {timeText(row.created)}
                  {row.parent !== null && row.parent !== row.number - 1 && `, on ${row.parent}`}
                </span>
              </button>
              {row.number === looked && standing.may_change && (
                <button
                  type="button"
                  className="btn btn-lamp"
                  onClick={() => {
                    look(null);
                    void state.goBack(row.number);
                  }}
                >
                  Go back to this
                </button>
              )}
            </li>
          ))}
        </ol>
      </div>
    </aside>
  );
}

function timeText(written: string): string {
  const when = new Date(written);
  const today = when.toDateString() === new Date().toDateString();
  const time = when.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
  if (today) return time;
  return `${when.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${time}`;
}
