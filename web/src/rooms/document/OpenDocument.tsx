import type { ReactNode } from 'react';
import { type Schemas, sentence } from '../../api/client';
import { type RoomName, Shell } from '../../app/Shell';

interface OpenProps<View> {
  readonly person: Schemas['Person'];
  readonly room: RoomName;
  readonly state: { readonly view: View | undefined; readonly problem: unknown };
  /** The room, once there is something to show in it. */
  readonly children: (standing: View) => ReactNode;
}

/** A room's document once it has been read, or why it could not be. */
export function OpenDocument<View>({ person, room, state, children }: OpenProps<View>) {
  if (state.view) return children(state.view);
  if (!state.problem) {
    return (
      <p className="opening" role="status">
        Opening …
      </p>
    );
  }
  return (
    <Shell person={person} room={room} crumbs={[{ text: room }]} libraryTo="/" sceneTo={null}>
      <p className="refusal p-4">{sentence(state.problem)}</p>
    </Shell>
  );
}
