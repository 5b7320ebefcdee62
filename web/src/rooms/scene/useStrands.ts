import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Schemas } from '../../api/client';
import { readStrands } from '../../api/strands';
import type { Edit, Scene } from './useScene';

type Strands = Schemas['Strands'];

interface Asked {
  readonly isOpen: boolean;
  readonly stint: string | null;
}

const KEPT_MS = 60_000;

/** An elastic as it is shown: while something is drawn, as it would be. */
export function useStrands(
  scene: Scene,
  edit: Edit | null,
  { isOpen, stint }: Asked,
): Strands | null {
  const { data } = useQuery({
    queryKey: ['strands', scene.id, scene.content, stint],
    queryFn: async () => {
      const revision = edit ? null : scene.revision;
      return { stint, strands: await readStrands(scene.id, { stint, edit, revision }) };
    },
    enabled: isOpen,
    placeholderData: keepPreviousData,
    gcTime: KEPT_MS,
    retry: false,
  });
  return isOpen && data?.stint === stint ? data.strands : null;
}

/** What an edit that is being thought of would make of an elastic, or why it cannot be. */
export function useStrandsAfter(standing: Scene, edit: Edit, stint: string | null) {
  const { data, error } = useQuery({
    queryKey: ['strands after', standing.id, standing.content, stint, edit],
    queryFn: () => readStrands(standing.id, { stint, edit, revision: null }),
    placeholderData: keepPreviousData,
    gcTime: KEPT_MS,
    retry: false,
  });
  return { strands: error ? null : (data ?? null), problem: error };
}
