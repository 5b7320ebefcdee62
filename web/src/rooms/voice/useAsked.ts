import { useCallback, useEffect, useState } from 'react';
import type { Mouth } from '../../api/lines';

export type Asked = ReadonlyMap<number, Pick<Mouth, 'key' | 'drawing'>>;

const NONE: Asked = new Map();

/** Drawings that were written a moment ago, by their frames, while they are on their way: the sheet shows them
 * at once. What follows from them comes with the answer. */
export function useAsked(waiting: number, mouths: readonly Mouth[]) {
  const [asked, setAsked] = useState<Asked>(NONE);
  useEffect(() => {
    if (!waiting) setAsked(NONE);
  }, [waiting]);
  const ask = useCallback(
    (frame: number, key: string) => {
      const mouth = mouths.find((one) => one.key === key);
      if (mouth) setAsked((before) => new Map([...before, [frame, mouth]]));
    },
    [mouths],
  );
  return { asked: waiting ? asked : NONE, ask };
}
