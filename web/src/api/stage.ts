/** The capture stage's routes, and the figure that comes from it live. */

import { answered, api, type Schemas } from './client';
import { type FramePack, readFramePack } from './framePack';

export type StageSeen = Schemas['StageView'];
export type Recording = Schemas['RecordingView'];
export type Move = Schemas['StageAsked']['move'];

export const MOVES: readonly Move[] = ['arms out', 'stand', 'walk', 'turn', 'stumble'];

const of = (production: string) => ({ params: { path: { production_id: production } } });

export const readStage = (production: string): Promise<StageSeen> =>
  answered(api.GET('/api/productions/{production_id}/stage', of(production))) as Promise<StageSeen>;

export const askStage = (production: string, move: Move) =>
  api.POST('/api/productions/{production_id}/stage/asks', { ...of(production), body: { move } });

export const startRecording = (
  production: string,
  body: Schemas['RecordWanted'],
): Promise<Recording> =>
  answered(
    api.POST('/api/productions/{production_id}/stage/recordings', { ...of(production), body }),
  );

export const stopRecording = (production: string, recording: string): Promise<Schemas['JobView']> =>
  answered(
    api.POST('/api/productions/{production_id}/stage/recordings/{recording_id}/stop', {
      params: { path: { production_id: production, recording_id: recording } },
    }),
  );

export const readJob = (job: string): Promise<Schemas['JobView']> =>
  answered(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: job } } }));

const LENGTH_BYTES = 4;

/** Every frame that comes from the stage, until it ends or is not wanted any more. */
export async function eachLiveFrame(
  production: string,
  signal: AbortSignal,
  onFrame: (pack: FramePack) => void,
): Promise<void> {
  const { data } = await api.GET('/api/productions/{production_id}/stage/live', {
    ...of(production),
    parseAs: 'stream',
    signal,
  });
  const reader = (data as unknown as ReadableStream<Uint8Array>).getReader();
  const pieces = new Pieces();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    pieces.add(value);
    for (let pack = pieces.next(); pack; pack = pieces.next()) onFrame(readFramePack(pack));
  }
}

/** A stream of bytes, cut into the blocks that it carries: each after its length in four bytes. */
export class Pieces {
  private bytes = new Uint8Array(0);

  add(more: Uint8Array): void {
    const joined = new Uint8Array(this.bytes.length + more.length);
    joined.set(this.bytes);
    joined.set(more, this.bytes.length);
    this.bytes = joined;
  }

  /** The next whole block, in a buffer of its own; null until all of it has come. */
  next(): ArrayBuffer | null {
    if (this.bytes.length < LENGTH_BYTES) return null;
    const view = new DataView(this.bytes.buffer, this.bytes.byteOffset);
    const end = LENGTH_BYTES + view.getUint32(0, true);
    if (this.bytes.length < end) return null;
    const block = this.bytes.slice(LENGTH_BYTES, end).buffer;
    this.bytes = this.bytes.subarray(end);
    return block;
  }
}
