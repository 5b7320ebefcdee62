/** Pictures of drawings: asked for once, ready to be painted, and told of when they are there. */

import { Listeners } from '../app/store';

/** As many pictures as are kept ready; the ones that were looked at longest ago go first. */
const MOST_READY = 240;
/** So many are on their way at once; the others wait in line, so that what is looked at next need not. */
const MOST_COMING = 6;
const TINTED_PIXELS = 640;
const MOST_HALVINGS = 5;
/** What is lighter than the one is no line, and what is darker than the other is all line. */
const LIGHT_SHARE = 0.5;
const DARK_SHARE = 0.22;

interface Kept {
  readonly image: HTMLImageElement;
  isReady: boolean;
  readonly tints: Map<string, HTMLCanvasElement>;
  /** Half as wide, a quarter as wide, and so on. */
  readonly halves: HTMLCanvasElement[];
}

export class PictureStore {
  private readonly kept = new Map<string, Kept>();
  private readonly coming = new Set<Promise<void>>();
  /** What was looked at and is not here, the latest first: that is what is to be seen. */
  private looked: string[] = [];
  /** What will be looked at, the next first. */
  private next: string[] = [];
  private readonly came = new Listeners<[]>();
  /** Hear of pictures that have come. */
  readonly onCame = this.came.add;

  /** `urlOf` tells from where a picture comes, by its file. */
  constructor(private readonly urlOf: (file: string) => string) {}

  /** A picture by its file; none while it is on its way. */
  image(file: string): HTMLImageElement | null {
    const known = this.kept.get(file);
    if (known) {
      // Looked at just now: the last to go.
      this.kept.delete(file);
      this.kept.set(file, known);
      return known.isReady ? known.image : null;
    }
    if (this.looked[0] !== file) {
      const before = this.looked.filter((other) => other !== file);
      this.looked = [file, ...before].slice(0, MOST_READY);
      this.fetchInLine();
    }
    return null;
  }

  /** What comes next, in its order: it is fetched after all that was looked at. What was to come before is not. */
  expect(files: readonly string[]): void {
    this.next = files.filter((file) => !this.kept.has(file));
    this.fetchInLine();
  }

  /** A picture about as wide as it is to be painted: halved, and halved again, while it stays wider. */
  near(file: string, pixels: number): CanvasImageSource | null {
    const image = this.image(file);
    const kept = this.kept.get(file);
    if (!image || !kept) return null;
    const wanted = pixels * (window.devicePixelRatio || 1);
    const halvings = Math.min(
      MOST_HALVINGS,
      Math.floor(Math.log2(image.naturalWidth / Math.max(1, wanted))),
    );
    for (let made = kept.halves.length; made < halvings; made++) {
      kept.halves.push(halved(kept.halves.at(-1) ?? image));
    }
    return halvings > 0 ? kept.halves[halvings - 1] : image;
  }

  /** The lines of a picture in one colour, as a pencil would have drawn them through the paper. */
  tinted(file: string, colour: string): HTMLCanvasElement | null {
    const image = this.image(file);
    const kept = this.kept.get(file);
    if (!image || !kept) return null;
    const known = kept.tints.get(colour);
    if (known) return known;
    const made = pencilled(image, colour);
    kept.tints.set(colour, made);
    return made;
  }

  /** Whether pictures that were asked for are on their way; who waits for them hears of one that never comes. */
  get isWaiting(): boolean {
    return this.coming.size > 0;
  }

  async allCame(): Promise<void> {
    while (this.coming.size > 0) await Promise.all(this.coming);
  }

  private fetchInLine(): void {
    while (this.coming.size < MOST_COMING) {
      const file = this.looked.shift() ?? this.next.shift();
      if (file === undefined) break;
      if (!this.kept.has(file)) this.fetch(file);
    }
  }

  private fetch(file: string): void {
    const image = new Image();
    const kept: Kept = { image, isReady: false, tints: new Map(), halves: [] };
    this.kept.set(file, kept);
    image.src = this.urlOf(file);
    const coming = image.decode().then(
      () => {
        this.coming.delete(coming);
        kept.isReady = true;
        this.fetchInLine();
        this.came.tell();
      },
      (problem) => {
        this.coming.delete(coming);
        // It is asked for again when it is looked at again.
        this.kept.delete(file);
        this.fetchInLine();
        throw problem;
      },
    );
    coming.catch(() => {});
    this.coming.add(coming);
    for (const old of this.kept.keys()) {
      if (this.kept.size <= MOST_READY) break;
      this.kept.delete(old);
    }
  }
}

function halved(from: HTMLImageElement | HTMLCanvasElement): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  const [width, height] =
    from instanceof HTMLImageElement
      ? [from.naturalWidth, from.naturalHeight]
      : [from.width, from.height];
  canvas.width = Math.max(1, Math.round(width / 2));
  canvas.height = Math.max(1, Math.round(height / 2));
  canvas.getContext('2d')?.drawImage(from, 0, 0, canvas.width, canvas.height);
  return canvas;
}

/** What is dark of a picture, in one colour; what is light is clear. */
function pencilled(image: HTMLImageElement, colour: string): HTMLCanvasElement {
  const scale = Math.min(1, TINTED_PIXELS / Math.max(image.naturalWidth, image.naturalHeight));
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(image.naturalWidth * scale));
  canvas.height = Math.max(1, Math.round(image.naturalHeight * scale));
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) return canvas;
  context.drawImage(image, 0, 0, canvas.width, canvas.height);
  const pixels = context.getImageData(0, 0, canvas.width, canvas.height);
  const [red, green, blue] = channelsOf(colour);
  const { data } = pixels;
  for (let at = 0; at < data.length; at += 4) {
    const light = (0.299 * data[at] + 0.587 * data[at + 1] + 0.114 * data[at + 2]) / 255;
    data[at] = red;
    data[at + 1] = green;
    data[at + 2] = blue;
    data[at + 3] *= Math.max(0, Math.min(1, (LIGHT_SHARE - light) / (LIGHT_SHARE - DARK_SHARE)));
  }
  context.putImageData(pixels, 0, 0);
  return canvas;
}

const channelsOf = (colour: string): [number, number, number] => {
  const number = Number.parseInt(colour.slice(1), 16);
  return [number >> 16, (number >> 8) & 255, number & 255];
};
