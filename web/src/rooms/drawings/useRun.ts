import {
  goBackRun,
  type Run,
  type RunEdit,
  readRun,
  readRunHead,
  sendRunEdit,
  walkRun,
} from '../../api/drawings';
import type { Routes } from '../document/routes';
import { type DocumentState, useDocument } from '../document/useDocument';

export type RunState = DocumentState<Run, RunEdit>;

const ROUTES: Routes<Run, RunEdit> = {
  kind: 'run',
  read: readRun,
  head: readRunHead,
  send: sendRunEdit,
  walk: walkRun,
  goBack: goBackRun,
};

/** A run of drawings and its edits. */
export const useRun = (id: string): RunState => useDocument(ROUTES, id);
