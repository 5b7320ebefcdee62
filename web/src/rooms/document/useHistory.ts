import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';

/** The steps of a document, and the earlier revision that is looked at while another stands. */
export interface History<View> {
  readonly isShown: boolean;
  readonly toggle: () => void;
  /** Put it away, and see what stands. */
  readonly close: () => void;
  /** The revision that is looked at; none is the one that stands. */
  readonly looked: number | null;
  readonly look: (revision: number | null) => void;
  readonly past: View | undefined;
}

export function useHistory<View>(
  kind: string,
  id: string,
  read: (id: string, revision: number | null) => Promise<View>,
): History<View> {
  const [isShown, setShown] = useState(false);
  const [looked, look] = useState<number | null>(null);
  const query = useQuery({
    queryKey: [`${kind} revision`, id, looked],
    enabled: looked !== null,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
    queryFn: () => read(id, looked),
  });
  return {
    isShown,
    toggle: () => setShown((shown) => !shown),
    close: () => {
      look(null);
      setShown(false);
    },
    looked,
    look,
    past: looked === null ? undefined : query.data,
  };
}
