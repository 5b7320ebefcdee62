import {
  goBackLine,
  type Line,
  type LineEdit,
  readLine,
  readLineHead,
  sendLineEdit,
  walkLine,
} from '../../api/lines';
import type { Routes } from '../document/routes';
import { type DocumentState, useDocument } from '../document/useDocument';

export type LineState = DocumentState<Line, LineEdit>;

const ROUTES: Routes<Line, LineEdit> = {
  kind: 'line',
  read: readLine,
  head: readLineHead,
  send: sendLineEdit,
  walk: walkLine,
  goBack: goBackLine,
};

/** A line and its edits. */
export const useLine = (id: string): LineState => useDocument(ROUTES, id);
