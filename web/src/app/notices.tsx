import { createContext, type ReactNode, useCallback, useContext, useEffect, useState } from 'react';
import { sentence } from '../api/client';
import { IconButton } from './controls';
import { Refusals } from './refusals';

interface Notice {
  readonly text: string;
  readonly trouble: boolean;
  readonly action?: { readonly label: string; readonly run: () => void };
}

interface Notices {
  readonly say: (text: string) => void;
  readonly trouble: (problem: unknown, action?: Notice['action']) => void;
}

const NoticesContext = createContext<Notices>({ say: () => {}, trouble: () => {} });
const SECONDS_SHOWN = 6;

export const useNotices = () => useContext(NoticesContext);

/** One sentence at a time in the head of the page: what was done, or why it could not be. */
export function NoticeBoard({ children }: { children: ReactNode }) {
  const [notice, setNotice] = useState<Notice | null>(null);
  const say = useCallback((text: string) => setNotice({ text, trouble: false }), []);
  const [refusals, setRefusals] = useState(0);
  const trouble = useCallback<Notices['trouble']>((problem, action) => {
    setNotice({ text: sentence(problem), trouble: true, ...(action ? { action } : {}) });
    setRefusals((count) => count + 1);
  }, []);
  useEffect(() => {
    if (!notice || notice.action) return undefined;
    const timer = setTimeout(() => setNotice(null), SECONDS_SHOWN * 1000);
    return () => clearTimeout(timer);
  }, [notice]);
  const [value] = useState(() => ({ say, trouble }));
  return (
    <NoticesContext.Provider value={value}>
      <Refusals.Provider value={refusals}>{children}</Refusals.Provider>
      <div aria-live="polite" role="status">
        {notice && (
          <div className={`notice ${notice.trouble ? 'is-trouble' : ''}`}>
            <span>{notice.text}</span>
            {notice.action && (
              <button
                type="button"
                className="btn btn-lamp"
                onClick={() => {
                  notice.action?.run();
                  setNotice(null);
                }}
              >
                {notice.action.label}
              </button>
            )}
            <IconButton icon="x-lg" label="Close this notice" onClick={() => setNotice(null)} />
          </div>
        )}
      </div>
    </NoticesContext.Provider>
  );
}
