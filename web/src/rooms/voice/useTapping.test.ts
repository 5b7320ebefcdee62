import { expect, it } from 'vitest';
import { tapped } from './useTapping';

it('makes one edit of taps, each until the next and the last until the end', () => {
  const taps = [
    { frame: 10, mouth: 'ai' },
    { frame: 14, mouth: 'mbp' },
  ];
  expect(tapped(taps, 21)).toEqual({
    kind: 'expose_mouths',
    mouths: [
      { frame: 10, length: 4, mouth: 'ai' },
      { frame: 14, length: 7, mouth: 'mbp' },
    ],
  });
  expect(tapped(taps.slice(1), 14)).toBeNull();
  expect(tapped([], 30)).toBeNull();
});
