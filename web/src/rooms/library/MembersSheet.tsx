import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { useNavigate } from 'react-router';
import { answered, api, type Schemas, sentence } from '../../api/client';
import { IconButton } from '../../app/controls';

type Role = Schemas['RoleChange']['role'];

const ROLES: readonly { readonly role: Role; readonly may: string }[] = [
  { role: 'owner', may: 'changes everything, and who belongs to it' },
  { role: 'editor', may: 'changes scenes, clips and figures' },
  { role: 'viewer', may: 'looks and plays' },
];

interface MembersProps {
  readonly production: string;
  readonly name: string;
  readonly mayOwn: boolean;
  readonly onClose: () => void;
}

/** Who belongs to a production, and as what. */
export function MembersSheet({ production, name, mayOwn, onClose }: MembersProps) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [account, setAccount] = useState('');
  const [role, setRole] = useState<Role>('editor');
  const key = ['members', production];
  const path = { production_id: production };
  const members = useQuery({
    queryKey: key,
    queryFn: () =>
      answered(api.GET('/api/productions/{production_id}/members', { params: { path } })),
  });
  const keep = (rows: Schemas['Member'][]) => queries.setQueryData(key, rows);
  const invite = useMutation({
    mutationFn: () =>
      answered(
        api.POST('/api/productions/{production_id}/members', {
          params: { path },
          body: { account, role },
        }),
      ),
    onSuccess: (rows) => {
      keep(rows);
      setAccount('');
    },
  });
  const change = useMutation({
    mutationFn: (wanted: { account: string; role: Role }) =>
      answered(
        api.PATCH('/api/productions/{production_id}/members/{account}', {
          params: { path: { ...path, account: wanted.account } },
          body: { role: wanted.role },
        }),
      ),
    onSuccess: keep,
  });
  const remove = useMutation({
    mutationFn: (member: Schemas['Member']) =>
      api.DELETE('/api/productions/{production_id}/members/{account}', {
        params: { path: { ...path, account: member.account } },
      }),
    onSuccess: async (_done, member) => {
      if (!member.is_you) {
        await queries.invalidateQueries({ queryKey: key });
        return;
      }
      await queries.invalidateQueries({ queryKey: ['productions'] });
      void navigate('/');
    },
  });
  const problem = invite.error ?? change.error ?? remove.error ?? members.error;
  const send = (event: FormEvent) => {
    event.preventDefault();
    invite.mutate();
  };
  return (
    <Modal show onHide={onClose} aria-labelledby="members-title" size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="members-title">People of {name}</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <table className="members">
          <thead>
            <tr>
              <th>Person</th>
              <th>Account</th>
              <th>Role</th>
              <th>
                <span className="visually-hidden">Take out</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {members.data?.map((member) => (
              <tr key={member.account}>
                <td>
                  {member.name} {member.is_you && <span className="quiet">(you)</span>}
                </td>
                <td className="number">{member.account}</td>
                <td>
                  {mayOwn ? (
                    <select
                      className="form-select w-auto"
                      aria-label={`Role of ${member.name}`}
                      value={member.role}
                      onChange={(event) =>
                        change.mutate({
                          account: member.account,
                          role: event.target.value as Role,
                        })
                      }
                    >
                      {ROLES.map((choice) => (
                        <option key={choice.role} value={choice.role}>
                          {choice.role}
                        </option>
                      ))}
                    </select>
                  ) : (
                    member.role
                  )}
                </td>
                <td>
                  {member.is_you ? (
                    <button
                      type="button"
                      className="btn btn-paper"
                      onClick={() => remove.mutate(member)}
                    >
                      Leave
                    </button>
                  ) : (
                    mayOwn && (
                      <IconButton
                        icon="person-dash"
                        label={`Take ${member.name} out`}
                        onClick={() => remove.mutate(member)}
                      />
                    )
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {problem && (
          <p className="refusal mt-2" role="alert">
            {sentence(problem)}
          </p>
        )}
        <dl className="facts mt-3">
          {ROLES.map((choice) => (
            <div key={choice.role} className="d-contents">
              <dt>{choice.role}</dt>
              <dd className="quiet">{choice.may}</dd>
            </div>
          ))}
        </dl>
        {mayOwn && (
          <form className="invite" onSubmit={send}>
            <input
              className="form-control"
              aria-label="Account to invite"
              placeholder="Account name"
              value={account}
              required
              onChange={(event) => setAccount(event.target.value)}
            />
            <select
              className="form-select w-auto"
              aria-label="As what"
              value={role}
              onChange={(event) => setRole(event.target.value as Role)}
            >
              {ROLES.map((choice) => (
                <option key={choice.role} value={choice.role}>
                  as {choice.role}
                </option>
              ))}
            </select>
            <button type="submit" className="btn btn-lamp" disabled={!account.trim()}>
              Invite
            </button>
          </form>
        )}
        {mayOwn && (
          <p className="members-whole mb-0">
            <span className="quiet grow">
              All of it, with its history and its files, to be kept or brought in elsewhere
            </span>
            <a className="btn btn-paper" href={`/api/productions/${production}/whole`} download>
              The production as one file
            </a>
          </p>
        )}
      </Modal.Body>
    </Modal>
  );
}
