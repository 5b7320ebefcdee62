/** The bench's routes. The client widens the tuples of the schema to lists; here they are tuples again. */

import { answered, api, type Schemas, sendFile } from './client';
import { type FramePack, readFramePack } from './framePack';
import { merged } from './merged';
import { newId } from './newId';
import { readHead, sendEdit } from './scenes';

/** A key; of those that came as plain values the slopes are not told. */
export type BenchKey = Omit<Schemas['BenchKey'], Slope> & Readonly<Record<Slope, number | null>>;
export type Slope = 'in_slope' | 'out_slope';
export type BenchCurve = Omit<Schemas['BenchCurve'], 'keys' | 'every_frame'> & {
  readonly keys: readonly BenchKey[];
};
export type Clip = Omit<Schemas['BenchView'], 'bench'> & {
  readonly bench: Omit<Schemas['Bench'], 'curves'> & { readonly curves: readonly BenchCurve[] };
};
export type ClipEdit = Schemas['ClipEditWanted']['edit'];
export type Trace = Schemas['Trace'];
export type PoseNumber = Schemas['PoseNumber'];
export type PoseChange = NonNullable<Schemas['KeyPose']['changes']>[number];
export type CopiedKeys = Schemas['PasteKeys']['keys'];
export type Tracing = Schemas['BenchTracing'];
export type Picture = Schemas['Picture'];
export type Gait = Schemas['Gait'];
export type Chosen = Readonly<Record<string, readonly number[]>>;

/** The clip with its keys one by one: those of a take come as plain values, one a frame. Curves that
 * run as in the known clip do not come again. */
function unpacked(view: object, known?: Clip): Clip {
  // The client widens the tuples of the schema to lists.
  const packed = view as Schemas['BenchView'];
  const brought = packed.bench.curves.map(({ every_frame, keys, ...curve }) => ({
    ...curve,
    keys: every_frame ? keysOf(every_frame) : keys,
  }));
  const channelOf = ({ channel }: BenchCurve) => channel;
  const curves = merged<BenchCurve>(packed.bench.channels, channelOf, brought, known?.bench.curves);
  return { ...packed, bench: { ...packed.bench, curves } };
}

const keysOf = ({ values, own }: Schemas['EveryFrame']): BenchKey[] =>
  values.map((value, time) => ({
    time,
    value,
    in_slope: null,
    out_slope: null,
    span: 'even',
    own: time < own,
  }));

const pathOf = (id: string) => ({ path: { document_id: id } });

export async function readClip(id: string, revision: number | null = null): Promise<Clip> {
  const params = { ...pathOf(id), query: { revision } };
  return unpacked(await answered(api.GET('/api/clips/{document_id}', { params })));
}

export const readClipHead = (id: string): Promise<Schemas['DocumentHead']> =>
  answered(api.GET('/api/clips/{document_id}/head', { params: pathOf(id) }));

/** Make an edit; without a token only say what it would give. */
export async function sendClipEdit(
  id: string,
  edit: ClipEdit,
  base: number,
  token: string | null,
  known?: Clip,
): Promise<{ view: Clip; notes: readonly string[]; chosen: Chosen | null }> {
  const preview = token === null;
  const body = { edit, base_revision: base, preview, token, known: known?.content ?? null };
  const call = api.POST('/api/clips/{document_id}/edits', { params: pathOf(id), body });
  const { clip, notes, chosen } = await answered(call);
  return { view: unpacked(clip, known), notes, chosen };
}

export async function walkClip(id: string, way: 'undo' | 'redo', base: number): Promise<Clip> {
  const route = `/api/clips/{document_id}/${way}` as const;
  const body = { base_revision: base };
  return unpacked(await answered(api.POST(route, { params: pathOf(id), body })));
}

export async function goBackClip(id: string, revision: number, base: number): Promise<Clip> {
  const body = { revision, base_revision: base };
  const call = api.POST('/api/clips/{document_id}/go-back', { params: pathOf(id), body });
  return unpacked(await answered(call));
}

export interface PosesWanted {
  readonly start: number;
  readonly end: number;
  readonly in_place: boolean;
  readonly edit: ClipEdit | null;
  readonly revision: number | null;
}

export async function clipPoses(id: string, body: PosesWanted): Promise<FramePack> {
  const { data } = await api.POST('/api/clips/{document_id}/poses', {
    params: pathOf(id),
    body,
    parseAs: 'arrayBuffer',
  });
  return readFramePack(data as ArrayBuffer);
}

/** Which state of a clip is asked of: one of its revisions, or what an edit of the standing one gives. */
const stateOf = (clip: Pick<Clip, 'revision'>, edit: ClipEdit | null) => ({
  edit,
  revision: edit ? null : clip.revision,
});

/** Curves of the clip as it is shown, an earlier revision's too. */
export const readTraces = (
  clip: Pick<Clip, 'id' | 'revision'>,
  channels: string[],
  start: number,
  end: number,
  edit: ClipEdit | null,
): Promise<Trace[]> =>
  answered(
    api.POST('/api/clips/{document_id}/traces', {
      params: pathOf(clip.id),
      body: { channels, start, end, ...stateOf(clip, edit) },
    }),
  );

/** Numbers of the clip as it is shown, an earlier revision's too. */
export const readNumbers = (
  clip: Pick<Clip, 'id' | 'revision'>,
  frame: number,
  joints: string[],
  edit: ClipEdit | null,
): Promise<PoseNumber[]> =>
  answered(
    api.POST('/api/clips/{document_id}/numbers', {
      params: pathOf(clip.id),
      body: { frame, joints, ...stateOf(clip, edit) },
    }),
  );

/** Keys of another figure as this clip's plays them; without a mapping one is proposed. */
export const fitKeys = (
  id: string,
  copied: { readonly figure: string; readonly keys: CopiedKeys },
  mapping: Readonly<Record<string, string>> | null,
): Promise<Schemas['FittedKeysView']> =>
  answered(
    api.POST('/api/clips/{document_id}/fit-keys', {
      params: pathOf(id),
      body: { ...copied, mapping: mapping && { ...mapping } },
    }),
  );

export const readGaits = (id: string): Promise<Schemas['GaitCard'][]> =>
  answered(api.GET('/api/clips/{document_id}/gaits', { params: pathOf(id) }));

/** Bring pictures in, one after another; `onDone` is told how many are. */
export async function bringInPictures(
  production: string,
  files: readonly File[],
  onDone: (count: number) => void,
): Promise<Picture[]> {
  const kept: Picture[] = [];
  const route = `/api/productions/${production}/pictures`;
  for (const file of files) {
    onDone(kept.length);
    kept.push(await sendFile<Picture>(route, file, () => {}, new AbortController().signal));
  }
  return kept;
}

export const pictureAt = (production: string, file: string): string =>
  `/api/productions/${production}/pictures/${file}`;

export const newClip = (
  production: string,
  body: Schemas['NewClip'],
): Promise<Schemas['ClipCard']> =>
  answered(
    api.POST('/api/productions/{production_id}/new-clips', {
      params: { path: { production_id: production } },
      body,
    }),
  );

/** A copy of a clip that one scene plays from now on, in its place; its id. */
export async function ownCopy(clip: string, scene: string): Promise<string> {
  const copy = await answered(
    api.POST('/api/documents/{document_id}/duplicate', {
      params: { path: { document_id: clip } },
    }),
  );
  const { revision } = await readHead(scene);
  const edit = { kind: 'swap_clip' as const, clip, by: copy.id };
  await sendEdit(scene, edit, revision, newId());
  return copy.id;
}
