/** The sound routes. */

import { useQuery } from '@tanstack/react-query';
import { api, packed, type Schemas, sendFile } from './client';
import type { FramePack } from './framePack';

export type SoundCard = Schemas['SoundCard'];

/** How far a sound swings, bin by bin: pairs of its least and greatest value, 128 for none. */
export interface Peaks {
  readonly values: Uint8Array;
  readonly secondsAPeak: number;
}

function peaksIn(pack: FramePack): Peaks {
  const values = pack.arrays.get('peaks')?.data;
  const secondsAPeak = Number(pack.metadata.seconds_a_peak);
  return { values: values instanceof Uint8Array ? values : new Uint8Array(), secondsAPeak };
}

/** A sound never changes: its picture is asked for once, when it is wanted. */
export function usePeaks(sound: string, isWanted = true) {
  return useQuery({
    queryKey: ['peaks', sound],
    enabled: isWanted,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () =>
      peaksIn(
        await packed(
          api.GET('/api/sounds/{document_id}/peaks', {
            params: { path: { document_id: sound } },
            parseAs: 'arrayBuffer',
          }),
        ),
      ),
  });
}

export const heardUrl = (sound: string): string => `/api/sounds/${sound}/heard`;

/** Ten seconds of what is heard of a scene’s revision. */
export async function sceneSound(
  scene: string,
  query: { readonly heard: string; readonly piece: number; readonly revision: number },
): Promise<ArrayBuffer> {
  const { data } = await api.GET('/api/scenes/{document_id}/sound', {
    params: { path: { document_id: scene }, query },
    parseAs: 'arrayBuffer',
  });
  return data as unknown as ArrayBuffer;
}

/** Ten seconds of a sound, at a pace, with the pitch that it has. */
export async function soundPiece(id: string, piece: number, pace: number): Promise<ArrayBuffer> {
  const params = { path: { document_id: id }, query: { piece, pace } };
  const { data } = await api.GET('/api/sounds/{document_id}/heard', {
    params,
    parseAs: 'arrayBuffer',
  });
  return data as unknown as ArrayBuffer;
}

const SOUND_NAME = /\.(wav|wave|aiff?|aifc|flac|ogg|oga|opus|mp3|m4a)$/i;

/** Whether a file is to be brought in as a sound; what it is, the server finds out. */
export const isSoundFile = (file: File): boolean =>
  SOUND_NAME.test(file.name) || file.type.startsWith('audio/');

export const SOUND_ENDINGS = '.wav,.wave,.aif,.aiff,.aifc,.flac,.ogg,.oga,.opus,.mp3,.m4a';

/** Send a sound: it is there at once, or a job decodes it. */
export const sendSound = (
  production: string,
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<SoundCard | Schemas['JobView']> =>
  sendFile(`/api/productions/${production}/sounds`, file, onProgress, signal);
