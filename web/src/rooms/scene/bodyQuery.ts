import { answered, api } from '../../api/client';

/** A figure's joints as one calls them, and the parts that they make up. */
export const bodyQuery = (figure: string) => ({
  queryKey: ['body', figure],
  queryFn: () =>
    answered(api.GET('/api/figures/{figure_id}/body', { params: { path: { figure_id: figure } } })),
  staleTime: Number.POSITIVE_INFINITY,
});
