import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import { Modal } from 'react-bootstrap';
import { type SessionEnd, sentence, signIn, whenSessionEnds } from '../api/client';
import { ended, SESSION, signedInAgain } from './session';

/** A session that has ended is begun again where one is, and nothing is lost by it. */
export function SignInAgain() {
  const queries = useQueryClient();
  const { end, isAsking } = useSyncExternalStore(ended.subscribe, ended.snapshot);
  const [password, setPassword] = useState('');
  const goOn = useCallback(() => {
    setPassword('');
    ended.change({ end: null, isAsking: false });
    void queries.invalidateQueries();
    signedInAgain.tell();
  }, [queries]);
  useEffect(() => {
    // What is being drawn is drawn to its end: a sheet that came between would take it out of the hand.
    let isPressed = false;
    const press = () => {
      isPressed = true;
    };
    const letGo = () => {
      isPressed = false;
      if (ended.snapshot().end === awaited) setTimeout(() => ended.change({ isAsking: true }));
      awaited = undefined;
    };
    let awaited: SessionEnd | undefined;
    whenSessionEnds({
      onEnd: (now) => {
        ended.change({ end: now, isAsking: !isPressed });
        if (isPressed) awaited = now;
      },
      onBack: goOn,
    });
    window.addEventListener('pointerdown', press, true);
    window.addEventListener('pointerup', letGo, true);
    window.addEventListener('pointercancel', letGo, true);
    return () => {
      window.removeEventListener('pointerdown', press, true);
      window.removeEventListener('pointerup', letGo, true);
      window.removeEventListener('pointercancel', letGo, true);
    };
  }, [goOn]);
  const enter = useMutation({
    mutationFn: () => signIn(end?.account ?? '', password),
    onSuccess: (state) => {
      queries.setQueryData(SESSION, state);
      goOn();
    },
  });
  if (!end || !isAsking) return null;
  const notNow = () => ended.change({ isAsking: false });
  const send = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate();
  };
  return (
    <Modal show backdrop="static" onHide={notNow} aria-labelledby="again-title">
      <form onSubmit={send}>
        <Modal.Header closeButton>
          <Modal.Title id="again-title">Sign in again</Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-flex flex-column gap-3">
          <p className="mb-0">
            {end.other
              ? `${end.other.name} has signed in in this browser since.`
              : 'Your session has ended.'}{' '}
            What you made and is not saved yet is kept here, and is saved when you are back.
          </p>
          <div>
            <label className="form-label" htmlFor="again-account">
              Account
            </label>
            <input
              id="again-account"
              className="form-control"
              autoComplete="username"
              value={end.account}
              readOnly
            />
          </div>
          <div>
            <label className="form-label" htmlFor="again-password">
              Password
            </label>
            <input
              id="again-password"
              className="form-control"
              type="password"
              autoComplete="current-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
              required
              // biome-ignore lint/a11y/noAutofocus: it is what the sheet was opened for
              autoFocus
            />
          </div>
          {enter.isError && (
            <p className="refusal" role="alert">
              {sentence(enter.error)}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={notNow}>
            Not now
          </button>
          <button type="submit" className="btn btn-lamp" disabled={enter.isPending}>
            Sign in
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
