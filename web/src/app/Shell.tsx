import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { Link } from 'react-router';
import { type Schemas, signOut } from '../api/client';
import { Mark } from './Mark';
import { useNotices } from './notices';
import { PasswordSheet } from './PasswordSheet';
import { SESSION } from './session';

export type RoomName = 'Library' | 'Bench' | 'Takes' | 'Scene' | 'Voice' | 'Drawings' | 'Prints';

const ICONS: Readonly<Record<RoomName, ReactNode>> = {
  Library: <path d="M3 18.5h16M4.5 18V6.5h3V18M9 18V4.5h3.2V18M13.8 17.6l2-11 2.8.6-1.9 10.8" />,
  Bench: (
    <>
      <circle cx="11" cy="12" r="7" />
      <path d="M11 12L14.4 8.2M11 5V2.8M9 2.8h4M16 6.6l1.4-1.4" />
    </>
  ),
  Takes: (
    <>
      <circle cx="12.4" cy="4.6" r="2" />
      <path d="M4.6 19l3-4.6 1.2-4.2 3.4-2 2.2 3 3 .8M8.8 10.2l3 3.4 2.6 1.4.6 4M4.8 10.6l2.4-2.4 3-.6" />
    </>
  ),
  Scene: (
    <>
      <path d="M2.8 15.2h16.4M2.8 15.2L7 11h8l4.2 4.2M5 19l3-3.8M17 19l-3-3.8M11 19v-3.8" />
      <circle cx="11" cy="6.2" r="2.5" />
    </>
  ),
  Drawings: (
    <>
      <path d="M4.2 3.4h10.6v12.4H4.2zM7 18.6h10.8V6" />
      <path d="M7 12.8c1-3.6 2.6-5.4 3.4-4.2.8 1.3-2.2 3.4-1 4.2 1 .7 2-1.4 3-1.2" />
    </>
  ),
  Prints: (
    <>
      <path d="M1.6 5.4C7 3.6 15 3.6 20.4 5.4" />
      <path d="M5.4 8h11.2v11H5.4zM5.4 11.6h11.2M5.4 15.4h11.2M7.6 3.2v4.2M14.4 3.2v4.2" />
    </>
  ),
  Voice: (
    <path d="M2.6 11.2C5 8.4 7.4 6.8 9.2 6.8c.8 0 1.2.5 1.8.5s1-.5 1.8-.5c1.8 0 4.2 1.6 6.6 4.4-2.4 3.2-5.2 5-8.4 5s-6-1.8-8.4-5ZM2.6 11.2c3 .9 5.6 0 8.4.5 2.8-.5 5.4.4 8.4-.5" />
  ),
};

export interface Crumb {
  readonly text: string;
  readonly to?: string;
}

interface ShellProps {
  readonly person: Schemas['Person'];
  readonly room: RoomName;
  readonly crumbs: readonly Crumb[];
  /** Where the tabs lead from here; a room without a place to go is not shown. */
  readonly libraryTo: string;
  readonly benchTo?: string | null;
  readonly takeTo?: string | null;
  readonly voiceTo?: string | null;
  readonly drawingsTo?: string | null;
  readonly printsTo?: string | null;
  readonly sceneTo: string | null;
  readonly tools?: ReactNode;
  readonly state?: ReactNode;
  readonly children: ReactNode;
}

/** The frame of every room: top bar, index-card tabs, and the room itself. */
export function Shell(props: ShellProps) {
  const { person, room, crumbs, libraryTo, benchTo, takeTo, sceneTo, voiceTo } = props;
  const { drawingsTo, printsTo } = props;
  const { tools, state, children } = props;
  return (
    <div className="shell">
      <header className="top-bar">
        <Mark />
        <Link to="/" className="word">
          Elastic Hours
        </Link>
        <nav className="crumbs" aria-label="Where you are">
          {crumbs.map((crumb, place) => (
            <span key={crumb.text} className="d-contents">
              {place > 0 && <span aria-hidden="true">/ </span>}
              {crumb.to ? (
                <Link to={crumb.to} title={crumb.text}>
                  {crumb.text}
                </Link>
              ) : (
                <b title={crumb.text}>{crumb.text}</b>
              )}
            </span>
          ))}
        </nav>
        {tools}
        <span className="grow" />
        {state}
        <PersonMenu person={person} />
      </header>
      <nav className="rooms" aria-label="Rooms">
        <RoomTab name="Library" to={libraryTo} here={room === 'Library'} />
        {benchTo && <RoomTab name="Bench" to={benchTo} here={room === 'Bench'} />}
        {takeTo && <RoomTab name="Takes" to={takeTo} here={room === 'Takes'} />}
        {sceneTo && <RoomTab name="Scene" to={sceneTo} here={room === 'Scene'} />}
        {voiceTo && <RoomTab name="Voice" to={voiceTo} here={room === 'Voice'} />}
        {drawingsTo && <RoomTab name="Drawings" to={drawingsTo} here={room === 'Drawings'} />}
        {printsTo && <RoomTab name="Prints" to={printsTo} here={room === 'Prints'} />}
      </nav>
      <main className="main">{children}</main>
    </div>
  );
}

function RoomTab({ name, to, here }: { name: RoomName; to: string; here: boolean }) {
  return (
    <Link
      className={`room ${here ? 'is-here' : ''}`}
      to={to}
      aria-current={here ? 'page' : undefined}
    >
      <svg className="tab" viewBox="0 0 64 66" preserveAspectRatio="none" aria-hidden="true">
        <path d="M65 .5L12 5.2Q6.5 5.8 6.5 11V55Q6.5 60.2 12 60.8L65 65.5" />
        <path className="edge" d="M8 14V52" />
      </svg>
      <svg className="icon" viewBox="0 0 22 22" aria-hidden="true">
        {ICONS[name]}
      </svg>
      <span>{name}</span>
    </Link>
  );
}

function PersonMenu({ person }: { person: Schemas['Person'] }) {
  const queries = useQueryClient();
  const notices = useNotices();
  const leave = async () => {
    try {
      await signOut();
      queries.clear();
      await queries.invalidateQueries({ queryKey: SESSION });
      window.location.assign('/');
    } catch (problem) {
      notices.trouble(problem);
    }
  };
  const [changing, setChanging] = useState(false);
  return (
    <>
      <Dropdown align="end">
        <Dropdown.Toggle bsPrefix="initials" as="button" aria-label={`${person.name}: account`}>
          {person.initials}
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <div className="dropdown-header">
            {person.name}, {person.account}
          </div>
          <Dropdown.Item as={Link} to="/?all">
            Productions
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setChanging(true)}>
            Change password …
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={leave}>
            Sign out
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {changing && <PasswordSheet onClose={() => setChanging(false)} />}
    </>
  );
}
