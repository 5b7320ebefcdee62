import type { SessionEnd } from '../api/client';
import { Listeners, Store } from './store';

/** Where the page keeps who is signed in. */
export const SESSION = ['session'];

/** The session that turned out to be over, and whether the sheet to sign in again is open. */
export const ended = new Store<{ readonly end: SessionEnd | null; readonly isAsking: boolean }>({
  end: null,
  isAsking: false,
});

/** Told when a person whose session was over has signed in again, in place. */
export const signedInAgain = new Listeners();
