/** What is to be printed, as the press hands it over (core/elastic_core/printing/sheet.py). */

import type { Schemas } from '../api/client';
import { type FramePack, readFramePack } from '../api/framePack';
import type { Figure } from '../stage/costume';
import type { MouthChart } from '../stage/mouth';
import type { ArcOf } from '../stage/scene';

export type NamedView = 'three-quarter' | 'side' | 'front' | 'plan';

/** From where it is seen, and what shows beside the picture itself. */
export interface PrintLook {
  readonly width: number;
  readonly height: number;
  readonly view: NamedView | 'camera' | 'stage';
  /** With “stage”: as somebody looked round. */
  readonly yaw_degrees: number;
  readonly pitch_degrees: number;
  readonly distance_metres: number;
  readonly target: readonly [number, number, number];
  readonly follow: boolean;
  readonly watched: string | null;
  readonly ghosts: { readonly count: number; readonly step: number } | null;
  readonly arcs: readonly ArcOf[];
  readonly prints: boolean;
  readonly grid: boolean;
  readonly numbers: boolean;
  /** The frame’s number as black and white cells, for a machine to read. */
  readonly mark: boolean;
  /** Without paper or quay. */
  readonly transparent: boolean;
}

export interface Printed {
  readonly desk: Schemas['Desk'];
  readonly figures: Readonly<Record<string, Figure>>;
  readonly charts: Readonly<Record<string, { chart: MouthChart; reach_degrees: number }>>;
  readonly sets: Readonly<Record<string, Schemas['SetSheet']>>;
  readonly look: PrintLook;
  /** What is burnt in at the left and at the right, frame by frame. */
  readonly burnt: readonly (readonly [left: string, right: string])[];
}

async function got(path: string): Promise<Response> {
  const answer = await fetch(`/printed/${path}`);
  if (!answer.ok) throw new Error(await answer.text());
  return answer;
}

export const readPrinted = async (): Promise<Printed> =>
  (await got('sheet.json')).json() as Promise<Printed>;

export const readFrames = async (start: number, end: number): Promise<FramePack> =>
  readFramePack(await (await got(`frames/${start}-${end}`)).arrayBuffer());

export const pictureUrl = (file: string): string => `/printed/pictures/${file}`;
