/** How one kind of document is read and changed. */

import type { Schemas } from '../../api/client';
import type { Chosen } from '../../api/clips';

export type Head = Schemas['DocumentHead'];

/** What every document's view tells. */
export interface Viewed {
  readonly id: string;
  readonly production: string;
  readonly name: string;
  readonly revision: number;
  readonly made_from?: string;
}

export interface Outcome<View> {
  readonly view: View;
  readonly notes: readonly string[];
  /** Where what the edit was about lies now, where it says so. */
  readonly chosen?: Chosen | null;
}

/** How one kind of document is read and changed. */
export interface Routes<View, Edit> {
  readonly kind: 'scene' | 'clip' | 'take' | 'line' | 'run' | 'cut_out';
  readonly read: (id: string) => Promise<View>;
  readonly head: (id: string) => Promise<Head>;
  /** Make an edit; without a token only say what it would give. What is known need not come again. */
  readonly send: (
    id: string,
    edit: Edit,
    base: number,
    token: string | null,
    known?: View,
  ) => Promise<Outcome<View>>;
  /** An edit of what was chosen, where that has landed since. */
  readonly follow?: (edit: Edit, landed: Chosen) => Edit;
  readonly walk: (id: string, way: 'undo' | 'redo', base: number) => Promise<View>;
  readonly goBack: (id: string, revision: number, base: number) => Promise<View>;
}

/** What is known of a document that stands, and of the one that waits to be read again. */
export const documentKey = (kind: string, id: string) => [kind, id];
