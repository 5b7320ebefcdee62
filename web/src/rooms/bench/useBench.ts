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

export type BenchState = DocumentState<Clip, ClipEdit>;

const ROUTES: Routes<Clip, ClipEdit> = {
  kind: 'clip',
  read: readClip,
  head: readClipHead,
  send: sendClipEdit,
  walk: walkClip,
  goBack: goBackClip,
};

/** A clip on the bench and its edits. */
export const useBench = (id: string): BenchState => useDocument(ROUTES, id);
