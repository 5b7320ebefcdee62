/** Frame packs (the safetensors layout): motion that the core computed, ready to be painted. */

export interface FramePack {
  readonly metadata: Readonly<Record<string, string>>;
  readonly arrays: ReadonlyMap<string, PackedArray>;
}

export interface PackedArray {
  readonly shape: readonly number[];
  readonly data: Float32Array;
}

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
    if (entry.dtype !== 'F32') continue;
    const [start, end] = entry.data_offsets;
    const from = HEADER_LENGTH + length + start;
    arrays.set(name, {
      shape: entry.shape,
      data: new Float32Array(buffer, from, (end - start) / 4),
    });
  }
  return { metadata, arrays };
}

/** One figure's joints at one place of a pack. */
export function poseIn(pack: FramePack, figure: string, place: number) {
  const positions = pack.arrays.get(`${figure}/positions`);
  const rotations = pack.arrays.get(`${figure}/rotations`);
  const travel = pack.arrays.get(`${figure}/travel`);
  if (!positions || !rotations || !travel || place < 0 || place >= positions.shape[0]) return null;
  const joints = positions.shape[1];
  const scales = pack.arrays.get(`${figure}/scales`);
  return {
    ...(scales && { scales: scales.data.subarray(place * joints * 3, (place + 1) * joints * 3) }),
    positions: positions.data.subarray(place * joints * 3, (place + 1) * joints * 3),
    rotations: rotations.data.subarray(place * joints * 4, (place + 1) * joints * 4),
    travel: travel.data.subarray(place * 3, place * 3 + 3),
  };
}

export type PosedFigure = NonNullable<ReturnType<typeof poseIn>>;

/** How many frames a pack holds. */
export function framesIn(pack: FramePack): number {
  const first = pack.arrays.values().next().value;
  return first?.shape[0] ?? 0;
}
