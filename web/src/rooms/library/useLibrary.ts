import { useQuery } from '@tanstack/react-query';
import { answered, api } from '../../api/client';
import { readRecipes } from '../../api/takes';
import { allPages } from './pages';

export const libraryKey = (production: string) => ['library', production];

/** Everything of a production. */
export function useLibrary(production: string | undefined) {
  return useQuery({
    queryKey: libraryKey(production ?? ''),
    enabled: production !== undefined,
    queryFn: () =>
      allPages((after) =>
        answered(
          api.GET('/api/productions/{production_id}', {
            params: { path: { production_id: production ?? '' }, query: { after } },
          }),
        ),
      ),
  });
}

/** The production’s recipes: with its library they are read anew. */
export function useRecipes(production: string | undefined) {
  return useQuery({
    queryKey: [...libraryKey(production ?? ''), 'recipes'],
    enabled: production !== undefined,
    queryFn: () => readRecipes(production ?? ''),
  });
}
