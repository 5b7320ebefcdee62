/** Frame packs of a scene by content, in chunks; asked for round the playhead first, then the rest. */

import {
  bytesIn,
  drawingIn,
  type FramePack,
  guideIn,
  type Lens,
  layerIn,
  lensIn,
  orderIn,
  type PosedFigure,
  poseIn,
} from '../api/framePack';
import { Listeners } from '../app/store';

/** Small, so that the first picture of a large scene is soon there. */
export const CHUNK_FRAMES = 24;
const CONTENTS_KEPT = 6;
/** What the frames of all contents may take together. */
const MOST_BYTES = 256 << 20;

const NEAR_CHUNKS = 2;
/** The share of its room from which on a store only looks after what is near. */
const FULL = 0.9;

/** The signal says that nobody looks at these frames any more. */
export type LoadFrames = (start: number, end: number, signal: AbortSignal) => Promise<FramePack>;

interface Content {
  readonly name: string;
  /** What the packs have to say they come from. */
  readonly content: string;
  readonly length: number;
  /** A passing content (a drag's preview) is loaded only round the playhead. */
  readonly passing: boolean;
  readonly load: LoadFrames;
  readonly chunks: Map<number, FramePack>;
  readonly asked: Set<number>;
}

export class FrameStore {
  private contents: Content[] = [];
  private playhead = 0;
  private asking: { readonly name: string; readonly stop: AbortController } | null = null;
  private bytes = 0;
  private toldOfMove = false;
  private readonly listeners = new Listeners();
  /** Hear of frames that have come. */
  readonly onFrames = this.listeners.add;

  /** `onMovedOn` is told when frames come from what no longer stands, and reads what does. */
  constructor(
    private readonly onTrouble: (problem: unknown) => void,
    private readonly onMovedOn: () => Promise<unknown>,
    private readonly mostBytes = MOST_BYTES,
  ) {}

  /** Play from this content from now on. What stood before is shown until its frames are here. */
  show(name: string, length: number, load: LoadFrames, passing = false, content = name): void {
    if (this.contents[0]?.name === name) {
      if (!passing && this.contents[0].passing)
        this.contents[0] = { ...this.contents[0], passing, load };
      void this.fetchNext();
      return;
    }
    const known = this.contents.find((content) => content.name === name);
    const others = this.contents.filter((content) => content !== known);
    const fresh = {
      name,
      content,
      length,
      passing,
      load,
      chunks: new Map(),
      asked: new Set<number>(),
    };
    this.contents = [known ? { ...known, passing, load } : fresh, ...others];
    for (const gone of this.contents.splice(CONTENTS_KEPT))
      this.letGo(gone, [...gone.chunks.keys()]);
    this.toldOfMove = false;
    // What takes long must not hold up what is looked at now.
    if (!passing && this.asking?.name !== name) this.asking?.stop.abort();
    this.tell();
    void this.fetchNext();
  }

  lookAt(frame: number): void {
    this.playhead = frame;
    void this.fetchNext();
  }

  isReady(frame: number): boolean {
    return this.contents[0]?.chunks.has(Math.floor(frame / CHUNK_FRAMES)) ?? false;
  }

  /** A figure's joints at a frame; from the content before while this one's are on their way. */
  pose(figure: string, frame: number): PosedFigure | null {
    const chunk = Math.floor(frame / CHUNK_FRAMES);
    for (const content of this.contents.slice(0, 2)) {
      const pack = content.chunks.get(chunk);
      const pose = pack && poseIn(pack, figure, frame - chunk * CHUNK_FRAMES);
      if (pose) return pose;
    }
    return null;
  }

  /** The drawing that a part of a figure shows at a frame; 0 where it shows none. */
  drawing(figure: string, part: string, frame: number): number {
    const chunk = Math.floor(frame / CHUNK_FRAMES);
    for (const content of this.contents.slice(0, 2)) {
      const pack = content.chunks.get(chunk);
      if (pack) return drawingIn(pack, figure, part, frame - chunk * CHUNK_FRAMES);
    }
    return -1;
  }

  /** In which order a part of a cut-out lies at a frame, where it has keys of that. */
  order(figure: string, card: string, frame: number): number | null {
    const chunk = Math.floor(frame / CHUNK_FRAMES);
    for (const content of this.contents.slice(0, 2)) {
      const pack = content.chunks.get(chunk);
      if (pack) return orderIn(pack, figure, card, frame - chunk * CHUNK_FRAMES);
    }
    return null;
  }

  /** The scene’s camera at a frame. */
  lens(frame: number): Lens | null {
    const chunk = Math.floor(frame / CHUNK_FRAMES);
    for (const content of this.contents.slice(0, 2)) {
      const pack = content.chunks.get(chunk);
      if (pack) return lensIn(pack, frame - chunk * CHUNK_FRAMES);
    }
    return null;
  }

  /** A guide at a frame; from the content before while this one’s is on its way. */
  guide(id: string, frame: number): ReturnType<typeof guideIn> {
    const chunk = Math.floor(frame / CHUNK_FRAMES);
    for (const content of this.contents.slice(0, 2)) {
      const pack = content.chunks.get(chunk);
      const found = pack && guideIn(pack, id, frame - chunk * CHUNK_FRAMES);
      if (found) return found;
    }
    return null;
  }

  /** A layer of drawings at a frame; from the content before while this one’s is on its way. */
  layer(id: string, frame: number): ReturnType<typeof layerIn> {
    const chunk = Math.floor(frame / CHUNK_FRAMES);
    for (const content of this.contents.slice(0, 2)) {
      const pack = content.chunks.get(chunk);
      if (pack) return layerIn(pack, id, frame - chunk * CHUNK_FRAMES);
    }
    return null;
  }

  private async fetchNext(): Promise<void> {
    if (this.asking) return;
    const content = this.contents[0];
    const chunk = content && this.nextChunk(content);
    if (!content || chunk === null || chunk === undefined) return;
    const stop = new AbortController();
    this.asking = { name: content.name, stop };
    content.asked.add(chunk);
    try {
      const start = chunk * CHUNK_FRAMES;
      const end = Math.min(start + CHUNK_FRAMES, content.length);
      const pack = await content.load(start, end, stop.signal);
      if (pack.metadata.content === content.content) {
        content.chunks.set(chunk, pack);
        this.toldOfMove = false;
        this.bytes += bytesIn(pack);
        this.makeRoom();
      } else {
        // Undone while it was asked for: when this content stands again, the chunk is still wanted.
        content.asked.delete(chunk);
        if (this.contents[0]?.name === content.name) {
          if (!content.passing && !this.toldOfMove) void this.askAgain();
          return;
        }
      }
      this.tell();
    } catch (problem) {
      content.asked.delete(chunk);
      // A preview that was overtaken by its own edit has no frames any more, and needs none.
      const overtaken = content.passing || this.contents[0] !== content;
      if (!overtaken) {
        this.onTrouble(problem);
        return;
      }
      if (this.contents[0] === content) return;
    } finally {
      this.asking = null;
    }
    void this.fetchNext();
  }

  /** Once: what stands may have come back (undone and redone) by the time it has been read again. */
  private async askAgain(): Promise<void> {
    this.toldOfMove = true;
    await this.onMovedOn();
    void this.fetchNext();
  }

  /** The nearest chunk ahead of the playhead that is not here yet, then those behind it. */
  private nextChunk(content: Content): number | null {
    const count = Math.ceil(content.length / CHUNK_FRAMES);
    const here = Math.min(count - 1, Math.floor(this.playhead / CHUNK_FRAMES));
    const near = [here, here + 1, here - 1, here + 2, here - 2].filter(
      (chunk) => chunk >= 0 && chunk < count,
    );
    // Where no more would fit, only what is near the playhead is worth its room.
    const ahead =
      content.passing || this.bytes > this.mostBytes * FULL
        ? near
        : Array.from({ length: count }, (_, k) => (here + k) % count);
    return ahead.find((chunk) => !content.asked.has(chunk)) ?? null;
  }

  /** Let go of frames until the rest fits: of the content shown longest ago first, and of the one that
   * plays those farthest from the playhead. */
  private makeRoom(): void {
    for (let place = this.contents.length - 1; place >= 0; place--) {
      const content = this.contents[place];
      const here = Math.floor(this.playhead / CHUNK_FRAMES);
      const farthest = [...content.chunks.keys()].sort(
        (a, b) => Math.abs(b - here) - Math.abs(a - here),
      );
      for (const chunk of farthest) {
        const isNear = place === 0 && Math.abs(chunk - here) <= NEAR_CHUNKS;
        if (this.bytes <= this.mostBytes || isNear) break;
        this.letGo(content, [chunk]);
      }
    }
  }

  private letGo(content: Content, chunks: readonly number[]): void {
    for (const chunk of chunks) {
      const pack = content.chunks.get(chunk);
      if (pack) this.bytes -= bytesIn(pack);
      content.chunks.delete(chunk);
      content.asked.delete(chunk);
    }
  }

  /** Have what listens look again. */
  tell(): void {
    this.listeners.tell();
  }
}
