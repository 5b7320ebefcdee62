import type { ReactNode } from 'react';
import type { Schemas } from '../../api/client';
import { type Crumb, type RoomName, Shell } from '../../app/Shell';
import { SavedState } from './DocumentState';
import { DocumentTools, type Keyed } from './DocumentTools';
import type { DocumentState } from './useDocument';
import type { History } from './useHistory';

interface DocumentShellProps {
  readonly person: Schemas['Person'];
  readonly room: RoomName;
  readonly state: Pick<DocumentState<unknown, unknown>, 'undo' | 'redo' | 'line'>;
  readonly standing: {
    readonly production: string;
    readonly production_name: string;
    readonly revision: number;
    readonly may_change: boolean;
    readonly undo: string | null;
    readonly redo: string | null;
  };
  /** What follows the production's name in the top bar. */
  readonly crumbs: readonly Crumb[];
  readonly benchTo?: string;
  readonly takeTo?: string;
  readonly voiceTo?: string;
  readonly drawingsTo?: string;
  readonly sceneTo: string | null;
  readonly history: History<unknown>;
  readonly withKey: Keyed;
  readonly onKeys: () => void;
  /** What else this room does with its document. */
  readonly tools?: ReactNode;
  readonly children: ReactNode;
}

/** The frame of a room in which a document is worked on. */
export function DocumentShell(props: DocumentShellProps) {
  const { person, room, state, standing, crumbs, benchTo, takeTo, voiceTo, sceneTo, history } =
    props;
  const production = `/productions/${standing.production}`;
  return (
    <Shell
      person={person}
      room={room}
      crumbs={[{ text: standing.production_name, to: production }, ...crumbs]}
      libraryTo={production}
      benchTo={benchTo ?? null}
      takeTo={takeTo ?? null}
      voiceTo={voiceTo ?? null}
      drawingsTo={props.drawingsTo ?? null}
      printsTo={room === 'Scene' ? `${production}/prints` : null}
      sceneTo={sceneTo}
      tools={
        <>
          <DocumentTools
            withKey={props.withKey}
            state={state}
            standing={standing}
            onHistory={history.toggle}
            onKeys={props.onKeys}
          />
          {props.tools}
        </>
      }
      state={<SavedState state={state} revision={standing.revision} />}
    >
      {props.children}
    </Shell>
  );
}
