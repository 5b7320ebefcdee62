import { useMutation } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { changePassword, sentence } from '../api/client';
import { useNotices } from './notices';

/** Another password for one's own account. */
export function PasswordSheet({ onClose }: { onClose: () => void }) {
  const notices = useNotices();
  const [old, setOld] = useState('');
  const [fresh, setFresh] = useState('');
  const [again, setAgain] = useState('');
  const change = useMutation({
    mutationFn: () => changePassword(old, fresh),
    onSuccess: () => {
      notices.say('Your password is changed.');
      onClose();
    },
  });
  const differ = again !== '' && again !== fresh;
  const send = (event: FormEvent) => {
    event.preventDefault();
    if (!differ) change.mutate();
  };
  const field = (
    name: string,
    label: string,
    value: string,
    set: (value: string) => void,
    complete: string,
  ) => (
    <div>
      <label className="form-label" htmlFor={name}>
        {label}
      </label>
      <input
        id={name}
        className="form-control"
        type="password"
        autoComplete={complete}
        value={value}
        required
        onChange={(event) => set(event.target.value)}
      />
    </div>
  );
  return (
    <Modal show onHide={onClose} aria-labelledby="password-title">
      <form onSubmit={send}>
        <Modal.Header closeButton>
          <Modal.Title id="password-title">Change your password</Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-flex flex-column gap-3">
          {field('old-password', 'Password now', old, setOld, 'current-password')}
          {field('new-password', 'New password', fresh, setFresh, 'new-password')}
          {field('new-password-again', 'The new one again', again, setAgain, 'new-password')}
          {(differ || change.isError) && (
            <p className="refusal" role="alert">
              {differ ? 'The two new passwords differ.' : sentence(change.error)}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp" disabled={differ || change.isPending}>
            Change it
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
