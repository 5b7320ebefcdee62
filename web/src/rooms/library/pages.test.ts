import { expect, it } from 'vitest';
import type { Schemas } from '../../api/client';
import { allPages } from './pages';

type Library = Schemas['LibraryView'];

it('reads page after page and keeps every card once, in order', async () => {
  const clip = (id: string) => ({ id }) as Schemas['ClipCard'];
  const page = (ids: string[], after: string | null) =>
    ({
      id: 'p',
      name: 'Lamp',
      clips: ids.map(clip),
      figures: [],
      scenes: [],
      sounds: [],
      takes: [],
      lines: [],
      charts: [],
      drawings: [],
      runs: [],
      cut_outs: [],
      unreadable: [],
      after,
    }) as unknown as Library;
  const pages: Record<string, Library> = {
    first: page(['a', 'b'], 'b'),
    b: page(['c', 'd'], 'd'),
    d: page(['e'], null),
  };
  const asked: (string | null)[] = [];
  const whole = await allPages(async (after) => {
    asked.push(after);
    return pages[after ?? 'first'];
  });
  expect(whole.clips.map(({ id }) => id)).toEqual(['a', 'b', 'c', 'd', 'e']);
  expect(asked).toEqual([null, 'b', 'd']);
  expect(whole.after).toBeNull();
});
