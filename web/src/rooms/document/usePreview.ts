import { replaceEqualDeep } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import type { Chosen } from '../../api/clips';
import { Newest } from './newest';
import type { Routes, Viewed } from './routes';

/** What a drag would give. */
export interface Preview<View, Edit> {
  readonly edit: Edit;
  readonly view: View;
  readonly chosen: Chosen | null;
}

/** What a drag would give while it goes on: the newest wish is asked for, one at a time. */
export function usePreview<View extends Viewed, Edit>(
  routes: Routes<View, Edit>,
  id: string,
  standing: () => View | undefined,
) {
  const [preview, setPreview] = useState<Preview<View, Edit> | null>(null);
  const [newest] = useState(() => {
    const made: Newest<Edit> = new Newest(async (asked) => {
      const now = standing();
      if (!now) return;
      const { view, chosen } = await routes.send(id, asked, now.revision, null, now);
      if (made.wish)
        setPreview({ edit: asked, view: replaceEqualDeep(now, view), chosen: chosen ?? null });
    });
    return made;
  });
  const show = useCallback(
    (wanted: Edit | null) => {
      if (wanted) void newest.want(wanted);
      else {
        newest.drop();
        setPreview(null);
      }
    },
    [newest],
  );
  /** The picture stays until the edit's own answer is there: nothing jumps back between the two. */
  const stopAsking = useCallback(() => newest.drop(), [newest]);
  const clear = useCallback(() => setPreview(null), []);
  const isWished = useCallback(() => newest.wish !== null, [newest]);
  return { preview, show, stopAsking, clear, isWished };
}
