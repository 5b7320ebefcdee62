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

  /** Nothing is wrong with what was asked: the server, or its database, is not there, or is busy. */
  get isUnreachable(): boolean {
    return [0, 429, 502, 503, 504].includes(this.status);
  }

  /** The person's session is over, or is another person's. */
  get isSignedOut(): boolean {
    return this.status === 401;
  }

  /** What was asked cannot be done, and would not be the next time either. */
  get isRefusal(): boolean {
    return this.status === 422;
  }
}

const SESSION_ROUTE = '/api/session';
const SIGNED_OUT = 'You are not signed in here any more.';
const UNREACHABLE = 'The server cannot be reached. Is it running?';

const UNEXPECTED = 'The server ran into something it did not expect.';

let csrf = '';
/** Whom this page works for: another person's session in this browser is not its own. */
let account: string | null = null;

export interface SessionEnd {
  readonly account: string;
  /** Who is signed in in this browser instead. */
  readonly other: Schemas['Person'] | null;
}

interface SessionEnds {
  readonly onEnd: (end: SessionEnd) => void;
  /** It has begun again, here or in another tab. */
  readonly onBack: () => void;
}

let ends: SessionEnds = { onEnd: () => {}, onBack: () => {} };
let isOver = false;

/** Whom to tell when the session turns out to be over, and when it is back. */
export function whenSessionEnds(tell: SessionEnds): void {
  ends = tell;
}

/**
 * The token of the newest sign-in in this browser, in whichever tab it was made; whether the person is
 * still the same.
 */
async function isStillSignedIn(): Promise<boolean> {
  const state = await sessionNow();
  if (state.person && state.person.account === account) {
    csrf = state.csrf;
    if (isOver) ends.onBack();
    isOver = false;
    return true;
  }
  if (account !== null && !isOver) ends.onEnd({ account, other: state.person ?? null });
  isOver = account !== null;
  return false;
}

async function sessionNow(): Promise<Schemas['SessionState']> {
  const answer = await fetch(SESSION_ROUTE);
  // A server in trouble has not said that the session is over.
  if (!answer.ok) throw await troubleOf(answer);
  return (await answer.json()) as Schemas['SessionState'];
}

/** Send a request; where only its token is old, once more with the new one. */
async function sent(request: Request): Promise<Response> {
  const again = request.clone();
  const response = await fetch(request);
  const isAtDoor = response.status === 401 || response.status === 403;
  const isSession = new URL(request.url).pathname === SESSION_ROUTE;
  // Someone is signed in here again: whoever it is.
  if (isOver && response.ok && !isSession) isStillSignedIn().catch(() => {});
  if (!isAtDoor || isSession) return response;
  if (await isStillSignedIn()) {
    again.headers.set('X-CSRFToken', csrf);
    return fetch(again);
  }
  return new Response(JSON.stringify({ message: SIGNED_OUT, head: null }), { status: 401 });
}

const middleware: Middleware = {
  onRequest({ request }) {
    if (csrf) request.headers.set('X-CSRFToken', csrf);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return undefined;
    throw await troubleOf(response);
  },
  onError({ error, request }) {
    // Whoever asked has given it up.
    if (request.signal.aborted && error instanceof Error) return error;
    return new Trouble(UNREACHABLE, 0);
  },
};

export const api = createClient<paths>({ credentials: 'same-origin', fetch: sent });
api.use(middleware);

async function troubleOf(response: Response): Promise<Trouble> {
  try {
    const problem = (await response.json()) as Schemas['Problem'];
    return new Trouble(problem.message || UNEXPECTED, response.status, problem.head ?? null);
  } catch {
    return new Trouble(UNEXPECTED, response.status);
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
  return taken(state);
}

export async function signIn(account: string, password: string): Promise<Schemas['SessionState']> {
  const kept = csrf;
  csrf = (await sessionNow()).csrf;
  try {
    return taken(await answered(api.POST('/api/session', { body: { account, password } })));
  } catch (problem) {
    // It may be another person's, with whose token nothing of ours is sent.
    csrf = kept;
    throw problem;
  }
}

function taken(state: Schemas['SessionState']): Schemas['SessionState'] {
  csrf = state.csrf;
  account = state.person?.account ?? null;
  isOver = false;
  return state;
}

export async function signOut(): Promise<void> {
  await isStillSignedIn();
  const leaving = account;
  // Whoever leaves is not asked to come back, whatever is under way meanwhile.
  account = null;
  try {
    await api.DELETE('/api/session');
  } catch (problem) {
    account = leaving;
    throw problem;
  }
  await readSession();
}

export async function changePassword(old: string, fresh: string): Promise<void> {
  const body = { old, new: fresh };
  csrf = (await answered(api.POST('/api/session/password', { body }))).csrf;
}

export async function packed(call: Promise<{ data?: unknown }>): Promise<FramePack> {
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
export async function sendFile<T>(
  route: string,
  file: File,
  onProgress: (share: number) => void,
  signal: AbortSignal,
): Promise<T> {
  try {
    return await sendFileOnce<T>(route, file, onProgress, signal);
  } catch (problem) {
    const isAtDoor = problem instanceof Trouble && [401, 403].includes(problem.status);
    if (isAtDoor && (await isStillSignedIn()))
      return sendFileOnce<T>(route, file, onProgress, signal);
    throw problem;
  }
}

function sendFileOnce<T>(
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
        const message = problem?.message || UNEXPECTED;
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
