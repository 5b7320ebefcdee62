/** Frame packs (the safetensors layout): motion that the core computed, ready to be painted. */

export interface FramePack {
  readonly metadata: Readonly<Record<string, string>>;
  readonly arrays: ReadonlyMap<string, PackedArray>;
}

/** Numbers of one kind; what an array holds is told by its place in the pack. */
type Numbers = Float32Array | Int32Array | Uint8Array;

interface PackedArray {
  readonly shape: readonly number[];
  readonly data: Numbers;
}

const KINDS: Readonly<
  Record<
    string,
    { new (buffer: ArrayBuffer, from: number, count: number): Numbers; BYTES_PER_ELEMENT: number }
  >
> = { F32: Float32Array, I32: Int32Array, U8: Uint8Array };

interface Entry {
  readonly dtype: string;
  readonly shape: number[];
  readonly data_offsets: [number, number];
}

const HEADER_LENGTH = 8;

export function readFramePack(buffer: ArrayBuffer): FramePack {
  const length = Number(new DataView(buffer).getBigUint64(0, true));
  const text = new TextDecoder().decode(new Uint8Array(buffer, HEADER_LENGTH, length));
  const { __metadata__: metadata, ...entries } = JSON.parse(text) as {
    __metadata__: Record<string, string>;
  } & Record<string, Entry>;
  const arrays = new Map<string, PackedArray>();
  for (const [name, entry] of Object.entries(entries as Record<string, Entry>)) {
    const Kind = KINDS[entry.dtype];
    if (!Kind) throw new Error(`Frames of a kind that this page does not know: ${entry.dtype}.`);
    const [start, end] = entry.data_offsets;
    const from = HEADER_LENGTH + length + start;
    const count = (end - start) / Kind.BYTES_PER_ELEMENT;
    arrays.set(name, { shape: entry.shape, data: new Kind(buffer, from, count) });
  }
  return { metadata, arrays };
}

/** An array of a pack that holds plain floats. */
function floats(
  pack: FramePack,
  name: string,
): { shape: readonly number[]; data: Float32Array } | null {
  const found = pack.arrays.get(name);
  return found && found.data instanceof Float32Array ? { ...found, data: found.data } : null;
}

/** One figure's joints at one place of a pack. */
export function poseIn(pack: FramePack, figure: string, place: number) {
  const positions = floats(pack, `${figure}/positions`);
  const rotations = floats(pack, `${figure}/rotations`);
  const travel = floats(pack, `${figure}/travel`);
  if (!positions || !rotations || !travel || place < 0 || place >= positions.shape[0]) return null;
  const joints = positions.shape[1];
  const scales = floats(pack, `${figure}/scales`);
  const ink = floats(pack, `${figure}/ink`);
  return {
    ...(ink && { ink: { metres: ink.data[place * 2], tracing: ink.data[place * 2 + 1] } }),
    ...(scales && { scales: scales.data.subarray(place * joints * 3, (place + 1) * joints * 3) }),
    positions: positions.data.subarray(place * joints * 3, (place + 1) * joints * 3),
    rotations: rotations.data.subarray(place * joints * 4, (place + 1) * joints * 4),
    travel: travel.data.subarray(place * 3, place * 3 + 3),
  };
}

export type PosedFigure = NonNullable<ReturnType<typeof poseIn>>;

/** The scene’s camera at a frame: where it stands, what it looks at, its roll in degrees, its zoom. */
export interface Lens {
  readonly eye: readonly [number, number, number];
  readonly look: readonly [number, number, number];
  readonly roll: number;
  readonly zoom: number;
}

/** The camera at one place of a pack. */
export function lensIn(pack: FramePack, place: number): Lens | null {
  const found = floats(pack, 'camera');
  if (!found || place < 0 || place >= found.shape[0]) return null;
  const row = [...found.data.subarray(place * 8, place * 8 + 8)];
  return {
    eye: [row[0], row[1], row[2]],
    look: [row[3], row[4], row[5]],
    roll: row[6],
    zoom: row[7],
  };
}

/** A guide at one place of a pack: x, y, z in metres, and its heading in radians. */
export function guideIn(
  pack: FramePack,
  guide: string,
  place: number,
): readonly [number, number, number, number] | null {
  const found = floats(pack, `guides/${guide}`);
  if (!found || place < 0 || place >= found.shape[0]) return null;
  const [x, y, z, heading] = found.data.subarray(place * 4, place * 4 + 4);
  return [x, y, z, heading];
}

/** A layer of drawings at a frame: which drawing shows, where its pegs are in metres, its turn as a quaternion (w, x, y,
 * z), and how much of it shows. */
export interface LayerPlace {
  readonly drawing: number;
  readonly at: readonly [number, number, number];
  readonly turn: readonly [number, number, number, number];
  readonly opacity: number;
}

/** A layer at one place of a pack; none where it shows no drawing. */
export function layerIn(pack: FramePack, layer: string, place: number): LayerPlace | null {
  const drawing = pack.arrays.get(`layers/${layer}`)?.data[place];
  const stands = floats(pack, `standing/${layer}`);
  if (drawing === undefined || drawing === NO_DRAWING || !stands) return null;
  const [x, y, z, w, i, j, k, opacity] = stands.data.subarray(place * 8, place * 8 + 8);
  return { drawing, at: [x, y, z], turn: [w, i, j, k], opacity };
}

/** In which order a part of a cut-out lies at one place of a pack; none where it lies as it was made. */
export function orderIn(
  pack: FramePack,
  figure: string,
  card: string,
  place: number,
): number | null {
  const order = pack.arrays.get(`${figure}/orders/${card}`)?.data[place];
  return order === undefined || order === AS_MADE ? null : order;
}

const AS_MADE = -10_000;
const NO_DRAWING = -1;

/** The drawing that a part of a figure shows at one place of a pack; −1 where it shows none. */
export function drawingIn(pack: FramePack, figure: string, part: string, place: number): number {
  return pack.arrays.get(`${figure}/drawings/${part}`)?.data[place] ?? NO_DRAWING;
}

/** How many bytes a pack takes. */
export function bytesIn(pack: FramePack): number {
  let bytes = 0;
  for (const { data } of pack.arrays.values()) bytes += data.byteLength;
  return bytes;
}

/** How many frames a pack holds. */
export function framesIn(pack: FramePack): number {
  const first = pack.arrays.values().next().value;
  return first?.shape[0] ?? 0;
}
