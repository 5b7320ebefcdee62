import type { Schemas } from '../../api/client';

type Library = Schemas['LibraryView'];

/** A library with all its pages, in the order it was made. */
export async function allPages(read: (after: string | null) => Promise<Library>): Promise<Library> {
  let whole = await read(null);
  while (whole.after) {
    const next = await read(whole.after);
    whole = {
      ...whole,
      clips: [...whole.clips, ...next.clips],
      figures: [...whole.figures, ...next.figures],
      scenes: [...whole.scenes, ...next.scenes],
      sounds: [...whole.sounds, ...next.sounds],
      takes: [...whole.takes, ...next.takes],
      lines: [...whole.lines, ...next.lines],
      charts: [...whole.charts, ...next.charts],
      drawings: [...whole.drawings, ...next.drawings],
      runs: [...whole.runs, ...next.runs],
      cut_outs: [...whole.cut_outs, ...next.cut_outs],
      unreadable: [...whole.unreadable, ...next.unreadable],
      after: next.after,
    };
  }
  return whole;
}
