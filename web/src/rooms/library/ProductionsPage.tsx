import { useQuery } from '@tanstack/react-query';
import { Link, Navigate } from 'react-router';
import { answered, api, type Schemas, sentence } from '../../api/client';
import { Shell } from '../../app/Shell';

/** The productions that a person belongs to; with one alone, straight into it. */
export function ProductionsPage({ person }: { person: Schemas['Person'] }) {
  const productions = useQuery({
    queryKey: ['productions'],
    queryFn: () => answered(api.GET('/api/productions')),
  });
  if (productions.data?.length === 1) {
    return <Navigate to={`/productions/${productions.data[0].id}`} replace />;
  }
  return (
    <Shell
      person={person}
      room="Library"
      crumbs={[{ text: 'Productions' }]}
      libraryTo="/"
      sceneTo={null}
    >
      <div className="library">
        <div className="library-head">
          <h1>Productions</h1>
        </div>
        {productions.isError && <p className="refusal mt-3">{sentence(productions.error)}</p>}
        {productions.data?.length === 0 && (
          <p className="empty mt-3">
            You belong to no production yet. Ask the owner of one to add the account “
            {person.account}”.
          </p>
        )}
        <ul className="cards mt-3">
          {productions.data?.map((production) => (
            <li key={production.id}>
              <Link className="slip" to={`/productions/${production.id}`}>
                <span className="line">
                  <span className="name">{production.name}</span>
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
