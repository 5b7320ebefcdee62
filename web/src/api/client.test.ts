import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { api, readSession, signOut, Trouble, whenSessionEnds } from './client';

// Outside a browser there is no page whose address completes one.
vi.hoisted(() => {
  const Whole = globalThis.Request;
  globalThis.Request = class extends Whole {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === 'string' ? new URL(input, 'http://127.0.0.1') : input, init);
    }
  };
});

const MIKA = { account: 'mika', name: 'Mika Kallas', initials: 'MK' };
const VERA = { account: 'vera', name: 'Vera Kohl', initials: 'VK' };

interface Asked {
  readonly path: string;
  readonly token: string | null;
}

/** A server of which only its door is real: it takes one token, of one person. */
function door(token: string, person: typeof MIKA | null) {
  const asked: Asked[] = [];
  const at = { token, person, isInTrouble: false };
  vi.stubGlobal('fetch', async (question: Request | string) => {
    const { url, headers, method } = new Request(question);
    const path = new URL(url).pathname;
    asked.push({ path, token: headers.get('X-CSRFToken') });
    const answer = (status: number, body: unknown) =>
      new Response(JSON.stringify(body), {
        status,
        headers: { 'Content-Type': 'application/json' },
      });
    if (at.isInTrouble && path === '/api/session') return answer(503, { message: 'No database.' });
    if (method === 'DELETE') {
      if (headers.get('X-CSRFToken') !== at.token)
        return answer(403, { message: 'Old.', head: null });
      at.person = null;
    }
    if (path === '/api/session') return answer(200, { person: at.person, csrf: at.token });
    if (!at.person) return answer(401, { message: 'Please sign in.', head: null });
    if (headers.get('X-CSRFToken') !== at.token)
      return answer(403, { message: 'Old.', head: null });
    return answer(201, { id: 'made', name: 'Quay' });
  });
  return { asked, at };
}

const make = () =>
  api.POST('/api/productions', { body: { name: 'Quay' } }).then(
    ({ data }) => data?.id,
    (problem) => problem as Trouble,
  );
const ends = vi.fn();
const back = vi.fn();

beforeEach(() => whenSessionEnds({ onEnd: ends, onBack: back }));
afterEach(() => {
  vi.unstubAllGlobals();
  ends.mockReset();
});

test('after a sign-in in another tab the token is asked for again, and the request sent again', async () => {
  const { asked, at } = door('first', MIKA);
  await readSession();
  at.token = 'second';
  expect(await make()).toBe('made');
  expect(asked.slice(1)).toEqual([
    { path: '/api/productions', token: 'first' },
    { path: '/api/session', token: null },
    { path: '/api/productions', token: 'second' },
  ]);
  expect(ends).not.toHaveBeenCalled();
});

test('a session that is over is told, and nothing is sent in another person’s name', async () => {
  const { asked, at } = door('first', MIKA);
  await readSession();
  at.token = 'second';
  at.person = VERA;
  const problem = await make();
  expect(problem).toBeInstanceOf(Trouble);
  expect(problem).toMatchObject({ status: 401, isSignedOut: true, isRefusal: false });
  expect(ends).toHaveBeenCalledWith({ account: 'mika', other: VERA });
  await make();
  const changes = asked.filter(({ path }) => path === '/api/productions');
  expect(changes.map(({ token }) => token)).toEqual(['first', 'first']);
});

test('nobody signed in: the person is asked to come back', async () => {
  const { at } = door('first', MIKA);
  await readSession();
  at.person = null;
  expect(await make()).toMatchObject({ status: 401 });
  expect(await make()).toMatchObject({ status: 401 });
  // What is asked every few seconds tells it once.
  expect(ends.mock.calls).toEqual([[{ account: 'mika', other: null }]]);
  at.token = 'second';
  at.person = MIKA;
  expect(back).not.toHaveBeenCalled();
  expect(await make()).toBe('made');
  expect(back).toHaveBeenCalledTimes(1);
});

test('a server in trouble has not said that the session is over', async () => {
  const { at } = door('first', MIKA);
  await readSession();
  at.token = 'second';
  at.isInTrouble = true;
  expect(await make()).toMatchObject({ status: 0, isUnreachable: true });
  expect(ends).not.toHaveBeenCalled();
  at.isInTrouble = false;
  expect(await make()).toBe('made');
});

test('signing out takes the newest token, and is no session that ended', async () => {
  const { at } = door('first', MIKA);
  await readSession();
  at.token = 'second';
  await signOut();
  expect(at.person).toBeNull();
  expect(await make()).toMatchObject({ status: 401 });
  expect(ends).not.toHaveBeenCalled();
});
