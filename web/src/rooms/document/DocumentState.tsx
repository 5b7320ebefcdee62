import { useSyncExternalStore } from 'react';
import { sentence } from '../../api/client';
import { ended } from '../../app/session';
import type { DocumentState as State } from './useDocument';
import type { History } from './useHistory';

/** Whether everything made is saved, in words, always in sight. */
interface SavedProps {
  readonly state: Pick<State<unknown, unknown>, 'line'>;
  readonly revision: number;
}

export function SavedState({ state, revision }: SavedProps) {
  const { waiting, unreachable, signedOut, stuck, late } = state.line;
  const edits = `${waiting} ${waiting === 1 ? 'edit' : 'edits'}`;
  let text = `Saved, rev ${revision}`;
  if (waiting) text = 'Saving …';
  if (late || stuck || (signedOut && waiting)) text = `Not saved: ${edits}`;
  if (unreachable) text = waiting ? `Server gone: ${edits} kept here` : 'Server gone';
  const mood = unreachable || late || stuck || signedOut ? 'is-trouble' : waiting ? 'is-busy' : '';
  return (
    <span className={`saved ${mood}`} role="status">
      {text}
    </span>
  );
}

/** Across the stage, when there is something to decide or to know. */
interface BannersProps {
  readonly state: Pick<
    State<unknown, unknown>,
    'line' | 'theirs' | 'decide' | 'unstick' | 'takeOut'
  >;
  readonly thing: 'scene' | 'clip' | 'take' | 'line' | 'run' | 'cut-out';
  /** The revision that stands. */
  readonly standing: number;
  readonly history: History<unknown>;
}

export function Banners({ state, thing, standing, history }: BannersProps) {
  const { line, theirs } = state;
  const { looked } = history;
  const { end } = useSyncExternalStore(ended.subscribe, ended.snapshot);
  return (
    <div className="banners">
      {line.late && (
        <section className="banner is-trouble" aria-label={`The ${thing} was changed meanwhile`}>
          <p>
            <b>{theirs?.author ?? 'Someone'}</b> changed the {thing} meanwhile
            {theirs && `: ${theirs.label}`}. You see it now. Your edit is not in it.
          </p>
          <button type="button" className="btn btn-paper" onClick={() => state.decide(false)}>
            Keep theirs
          </button>
          <button type="button" className="btn btn-lamp" onClick={() => state.decide(true)}>
            Apply mine on top
          </button>
        </section>
      )}
      {line.stuck && (
        <section className="banner is-trouble" aria-label="An edit could not be saved">
          <p>
            <b>Not saved.</b> {sentence(line.stuck.problem)} Your edit is kept here.
          </p>
          <button type="button" className="btn btn-paper" onClick={() => state.unstick(false)}>
            Leave it out
          </button>
          <button type="button" className="btn btn-paper" onClick={state.takeOut}>
            Take it out as a file
          </button>
          <button type="button" className="btn btn-lamp" onClick={() => state.unstick(true)}>
            Try again
          </button>
        </section>
      )}
      {end && (
        <section className="banner is-trouble" aria-label="You are signed out">
          <p>
            You are signed out here.{' '}
            {line.waiting > 0 && 'What you made is kept, and is saved when you are back.'}
          </p>
          {line.waiting > 0 && (
            <button type="button" className="btn btn-paper" onClick={state.takeOut}>
              Take it out as a file
            </button>
          )}
          <button
            type="button"
            className="btn btn-lamp"
            onClick={() => ended.change({ isAsking: true })}
          >
            Sign in
          </button>
        </section>
      )}
      {line.unreachable && (
        <section className="banner" aria-label="The server cannot be reached" role="status">
          <p>
            The server cannot be reached.{' '}
            {line.waiting > 0 && 'What you make is kept here and sent '}
            {line.waiting > 0 ? 'when it is back.' : 'You can look; edits will be kept and sent.'}
          </p>
        </section>
      )}
      {looked !== null && (
        <section className="banner" aria-label="An earlier revision">
          <p>
            You look at revision <b className="number">{looked}</b>; the {thing} stands at{' '}
            <b className="number">{standing}</b>.
          </p>
          <button type="button" className="btn btn-paper" onClick={() => history.look(null)}>
            Back to now
          </button>
        </section>
      )}
    </div>
  );
}
