import {
  goBackTake,
  readTake,
  readTakeHead,
  sendTakeEdit,
  type Take,
  type TakeEdit,
  walkTake,
} from '../../api/takes';
import type { Routes } from '../document/routes';
import { type DocumentState, useDocument } from '../document/useDocument';

export type TakeState = DocumentState<Take, TakeEdit>;

const ROUTES: Routes<Take, TakeEdit> = {
  kind: 'take',
  read: readTake,
  head: readTakeHead,
  send: sendTakeEdit,
  walk: walkTake,
  goBack: goBackTake,
};

/** A take and its edits. */
export const useTake = (id: string): TakeState => useDocument(ROUTES, id);
