import { QueryObserver, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Trouble } from '../../api/client';
import { useNotices } from '../../app/notices';
import { documentKey, type Routes, type Viewed } from './routes';

const LOOK_AGAIN_MS = 2500;

/** What has changed where the document itself stands as it stood. */
const MADE_OF: Readonly<Record<Routes<Viewed, unknown>['kind'], string>> = {
  scene: 'A clip of this scene has changed.',
  clip: 'The figure of this clip has changed.',
  take: 'What this take plays on has changed.',
  line: 'The sound or the chart of this line has changed.',
  run: 'The drawings of this run have changed.',
  cut_out: 'The drawings of this cut-out have changed, or its figure.',
};

interface HeadsOptions<View, Edit> {
  readonly routes: Routes<View, Edit>;
  readonly id: string;
  /** None while the document is not here yet. */
  readonly isHere: boolean;
  readonly standing: () => View | undefined;
  /** An edit or a drag of one's own is on its way: what stands is not asked about. */
  readonly isBusy: () => boolean;
  readonly reread: () => Promise<unknown>;
}

/** Looks every few seconds whether others have changed the document; whether the server is gone. */
export function useHeads<View extends Viewed, Edit>(options: HeadsOptions<View, Edit>): boolean {
  const { routes, id, isHere, standing, isBusy, reread } = options;
  const { kind } = routes;
  const queries = useQueryClient();
  const notices = useNotices();
  // Watched outside React's rendering: an answer that says nothing new must not cost a frame of play.
  const [isGone, setGone] = useState(false);
  useEffect(() => {
    if (!isHere) return undefined;
    const observer = new QueryObserver(queries, {
      queryKey: [`${kind} head`, id],
      refetchInterval: LOOK_AGAIN_MS,
      retry: false,
      queryFn: () => routes.head(id),
    });
    return observer.subscribe(({ data: head, dataUpdatedAt, error }) => {
      setGone(error instanceof Trouble && error.isUnreachable);
      const now = standing();
      // An answer from before our own last edit is no news.
      if (!head || !now || head.revision < now.revision) return;
      const isSame = head.revision === now.revision;
      if (isSame && (now.made_from ?? '') === head.made_from) return;
      if (isBusy()) return;
      // Nor is one from before the document was last read, whose clips it knew.
      if (dataUpdatedAt < (queries.getQueryState(documentKey(kind, id))?.dataUpdatedAt ?? 0))
        return;
      const says = isSame ? MADE_OF[kind] : `${head.author}: ${head.label}.`;
      void reread().then(() => notices.say(says));
    });
  }, [kind, routes, id, isHere, standing, isBusy, notices, queries, reread]);
  return isGone;
}
