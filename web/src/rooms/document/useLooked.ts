import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';

/** An earlier revision that is looked at while another stands; with none, what stands is seen. */
export function useLooked<View>(
  kind: string,
  id: string,
  read: (id: string, revision: number | null) => Promise<View>,
) {
  const [looked, setLooked] = useState<number | null>(null);
  const query = useQuery({
    queryKey: [`${kind} revision`, id, looked],
    enabled: looked !== null,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: (before) => before,
    queryFn: () => read(id, looked),
  });
  return { looked, setLooked, past: looked === null ? undefined : query.data };
}
