/** The API, typed from its schema; and the one kind of trouble the page shows. */

import createClient, { type Middleware } from 'openapi-fetch';
import { type FramePack, readFramePack } from './framePack';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];

/** A refusal or failure, as a sentence for the person. */
export class Trouble extends Error {
  constructor(
    message: string,
    readonly status: number,
    /** The revision that stands, where an edit came too late. */
    readonly head: number | null = null,
  ) {
    super(message);
  }

  /** Nothing is wrong with what was asked: the server, or its database, is not there. */
  get isUnreachable(): boolean {
    return this.status === 0 || this.status === 502 || this.status === 503;
  }
}

const UNREACHABLE = 'The server cannot be reached. Is it running?';

let csrf = '';

const middleware: Middleware = {
  onRequest({ request }) {
    if (csrf) request.headers.set('X-CSRFToken', csrf);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return undefined;
    throw await troubleOf(response);
  },
  onError() {
    return new Trouble(UNREACHABLE, 0);
  },
};

export const api = createClient<paths>({ credentials: 'same-origin' });
api.use(middleware);

async function troubleOf(response: Response): Promise<Trouble> {
  try {
    const problem = (await response.json()) as Schemas['Problem'];
    return new Trouble(problem.message, response.status, problem.head ?? null);
  } catch {
    return new Trouble('The server ran into something it did not expect.', response.status);
  }
}

export function sentence(problem: unknown): string {
  return problem instanceof Error ? problem.message : String(problem);
}

/** The body of an answer that is known to have one. */
export async function answered<T>(call: Promise<{ data?: T }>): Promise<T> {
  const { data } = await call;
  if (data === undefined) throw new Trouble('The server answered nothing.', 0);
  return data;
}

export async function readSession(): Promise<Schemas['SessionState']> {
  const state = await answered(api.GET('/api/session'));
  csrf = state.csrf;
  return state;
}

export async function signIn(account: string, password: string): Promise<Schemas['SessionState']> {
  const state = await answered(api.POST('/api/session', { body: { account, password } }));
  csrf = state.csrf;
  return state;
}

export async function signOut(): Promise<void> {
  await api.DELETE('/api/session');
  await readSession();
}

export async function changePassword(old: string, fresh: string): Promise<void> {
  const body = { old, new: fresh };
  csrf = (await answered(api.POST('/api/session/password', { body }))).csrf;
}

async function packed(call: Promise<{ data?: unknown }>): Promise<FramePack> {
  const { data } = await call;
  return readFramePack(data as ArrayBuffer);
}

export type FramesWanted = Schemas['FramesWanted'];

export const sceneFrames = (scene: string, body: FramesWanted) =>
  packed(
    api.POST('/api/scenes/{document_id}/frames', {
      params: { path: { document_id: scene } },
      body,
      parseAs: 'arrayBuffer',
    }),
  );

export const clipFrames = (clip: string, most: number) =>
  packed(
    api.GET('/api/clips/{document_id}/frames', {
      params: { path: { document_id: clip }, query: { most } },
      parseAs: 'arrayBuffer',
    }),
  );

export const figureFrames = (figure: string) =>
  packed(
    api.GET('/api/figures/{figure_id}/frames', {
      params: { path: { figure_id: figure } },
      parseAs: 'arrayBuffer',
    }),
  );

export const filePoses = (production: string, file: string, body: Schemas['FilePosesWanted']) =>
  packed(
    api.POST('/api/productions/{production_id}/files/{sha256}/frames', {
      params: { path: { production_id: production, sha256: file } },
      body,
      parseAs: 'arrayBuffer',
    }),
  );

/** Send a file, with progress from 0 to 1. */
export function sendFile<T>(
  route: string,
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', route);
    request.setRequestHeader('X-CSRFToken', csrf);
    request.responseType = 'json';
    request.upload.onprogress = (event) => {
      if (event.lengthComputable) onProgress(event.loaded / event.total);
    };
    request.onload = () => {
      const { status } = request;
      if (status >= 200 && status < 300) resolve(request.response as T);
      else {
        const problem = request.response as Schemas['Problem'] | null;
        const message = problem?.message ?? 'The server ran into something it did not expect.';
        reject(new Trouble(message, status));
      }
    };
    request.onerror = () => reject(new Trouble(UNREACHABLE, 0));
    request.onabort = () => reject(new Trouble('Cancelled.', 0));
    signal.addEventListener('abort', () => request.abort());
    const form = new FormData();
    form.append('upload', file);
    request.send(form);
  });
}
