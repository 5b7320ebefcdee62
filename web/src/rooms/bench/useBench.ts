import {
  type Clip,
  type ClipEdit,
  goBackClip,
  readClip,
  readClipHead,
  sendClipEdit,
  walkClip,
} from '../../api/clips';
import type { Routes } from '../document/routes';
import { type DocumentState, useDocument } from '../document/useDocument';
import { writtenKeys } from './sheet';

export type BenchState = DocumentState<Clip, ClipEdit>;

const ROUTES: Routes<Clip, ClipEdit> = {
  kind: 'clip',
  read: readClip,
  head: readClipHead,
  send: sendClipEdit,
  follow: (edit, landed) => ('chosen' in edit ? { ...edit, chosen: writtenKeys(landed) } : edit),
  walk: walkClip,
  goBack: goBackClip,
};

/** A clip on the bench and its edits. */
export const useBench = (id: string): BenchState => useDocument(ROUTES, id);
