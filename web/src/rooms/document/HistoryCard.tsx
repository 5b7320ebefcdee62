import { useQuery } from '@tanstack/react-query';
import { answered, api, sentence } from '../../api/client';
import { CardHead } from '../scene/cards/CardHead';

interface HistoryProps {
  readonly standing: {
    readonly id: string;
    readonly revision: number;
    readonly may_change: boolean;
  };
  /** The revision that is looked at; none is the one that stands. */
  readonly looked: number | null;
  readonly onLook: (revision: number | null) => void;
  readonly onGoBack: (revision: number) => void;
  readonly onClose: () => void;
}

/** Every saved step, the newest first: look at any, go back to any. */
export function HistoryCard({ standing, looked, onLook, onGoBack, onClose }: HistoryProps) {
  const history = useQuery({
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
      <CardHead title="History" onClose={onClose} />
      <div className="body">
        <p className="quiet">
          Press a step to look at it. Going back adds a step; nothing made since is lost.
        </p>
        {history.isError && <p className="refusal">{sentence(history.error)}</p>}
        <ol className="history">
          {history.data?.map((row) => (
            <li
              key={row.number}
              className={`${row.stands ? 'is-standing' : ''} ${row.number === looked ? 'is-looked' : ''}`}
            >
              <button
                type="button"
                aria-current={row.number === (looked ?? standing.revision) ? 'step' : undefined}
                onClick={() => onLook(row.stands ? null : row.number)}
              >
                <span className="number rev">{row.number}</span>
                <span className="label">{row.label}</span>
                <span className="quiet">
                  {row.author}, {timeText(row.created)}
                  {row.parent !== null && row.parent !== row.number - 1 && `, on ${row.parent}`}
                </span>
              </button>
              {row.number === looked && standing.may_change && (
                <button type="button" className="btn btn-lamp" onClick={() => onGoBack(row.number)}>
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
