import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useState } from 'react';
import { Link, Navigate, useNavigate, useSearchParams } from 'react-router';
import { answered, api, type Schemas, sentence } from '../../api/client';
import { Name } from '../../app/Name';
import { Shell } from '../../app/Shell';

/** The productions that a person belongs to; with one alone, straight into it. */
export function ProductionsPage({ person }: { person: Schemas['Person'] }) {
  const [search] = useSearchParams();
  const productions = useQuery({
    queryKey: ['productions'],
    queryFn: () => answered(api.GET('/api/productions')),
  });
  if (productions.data?.length === 1 && !search.has('all')) {
    return <Navigate to={`/productions/${productions.data[0].id}`} replace />;
  }
  return (
    <Shell
      person={person}
      room="Library"
      crumbs={[{ text: 'Productions' }]}
      libraryTo="/?all"
      sceneTo={null}
    >
      <div className="library">
        <div className="library-head">
          <h1>Productions</h1>
          <span className="grow" />
          <NewProduction />
        </div>
        {productions.isError && <p className="refusal mt-3">{sentence(productions.error)}</p>}
        {productions.data?.length === 0 && (
          <p className="empty mt-3">
            You belong to no production yet. Begin one here, or ask an owner to invite the account “
            {person.account}”.
          </p>
        )}
        <ul className="cards mt-3">
          {productions.data?.map((production) => (
            <li key={production.id}>
              <Link className="slip" to={`/productions/${production.id}`}>
                <span className="line">
                  <Name className="name" text={production.name} />
                  <span className="length">{production.role}</span>
                </span>
                <span className="quiet">
                  {production.scenes} scenes, {production.clips} clips
                </span>
              </Link>
            </li>
          ))}
        </ul>
      </div>
    </Shell>
  );
}

function NewProduction() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const make = useMutation({
    mutationFn: () => answered(api.POST('/api/productions', { body: { name } })),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ['productions'] });
      void navigate(`/productions/${made.id}`);
    },
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <form className="new-production" onSubmit={send}>
      {make.isError && <span className="refusal">{sentence(make.error)}</span>}
      <input
        className="form-control"
        aria-label="Name of the new production"
        placeholder="A new production’s name"
        value={name}
        maxLength={120}
        required
        onChange={(event) => setName(event.target.value)}
      />
      <button type="submit" className="btn btn-lamp" disabled={!name.trim() || make.isPending}>
        Begin
      </button>
    </form>
  );
}
