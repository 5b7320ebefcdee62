import {
  type CutOut,
  type CutOutEdit,
  goBackCutOut,
  readCutOut,
  readCutOutHead,
  sendCutOutEdit,
  walkCutOut,
} from '../../api/cutOuts';
import type { Routes } from '../document/routes';
import { type DocumentState, useDocument } from '../document/useDocument';

export type CutOutState = DocumentState<CutOut, CutOutEdit>;

const ROUTES: Routes<CutOut, CutOutEdit> = {
  kind: 'cut_out',
  read: readCutOut,
  head: readCutOutHead,
  send: sendCutOutEdit,
  walk: walkCutOut,
  goBack: goBackCutOut,
};

/** A cut-out and its edits. */
export const useCutOut = (id: string): CutOutState => useDocument(ROUTES, id);
