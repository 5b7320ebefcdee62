/** Loose poses: changes that show on the stage and are not keyed until K is pressed, or Record is on. */

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { type ClipEdit, clipPoses, type PoseChange } from '../../api/clips';
import { type PosedFigure, poseIn } from '../../api/framePack';
import { recall, remember } from '../../app/remembered';
import { Newest } from '../document/newest';
import { KINDS, type Kind } from './kinds';

export interface Loose {
  readonly frame: number;
  readonly changes: readonly PoseChange[];
  readonly bothSides: boolean;
}

const looseKey = (clip: string) => `hours/loose/${clip}`;

interface PoseOptions {
  readonly clip: string;
  readonly content: string;
  readonly inPlace: boolean;
  readonly record: boolean;
  readonly bothSides: boolean;
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onShown: () => void;
  /** A draw on one frame while the pose of another is still loose. */
  readonly onOtherLoose: (frame: number) => void;
}

export interface PoseState {
  readonly loose: Loose | null;
  /** The loose pose, where this frame has one. */
  readonly shown: (frame: number) => PosedFigure | null;
  /** Change the pose of a frame while a draw goes on; `done` lets go. */
  readonly draw: (frame: number, change: PoseChange, done: boolean) => void;
  readonly cancelDraw: () => void;
  readonly key: (frame: number, joints: readonly string[] | null, kinds: readonly Kind[]) => void;
  readonly drop: () => void;
}

export const editOf = (loose: Loose): ClipEdit & { kind: 'key_pose' } => ({
  kind: 'key_pose',
  frame: loose.frame,
  changes: [...loose.changes],
  on_both_sides: loose.bothSides,
  kinds: [...KINDS],
  joints: null,
  span: null,
});

export function usePose(options: PoseOptions): PoseState {
  const { clip, content, onShown } = options;
  const latest = useRef(options);
  latest.current = options;
  // A loose pose is still there after a reload: it is never lost without a word.
  const [loose, setKept] = useState<Loose | null>(() => recall<Loose>(looseKey(clip)));
  const held = useRef<Loose | null>(loose);
  const setLoose = useCallback(
    (wanted: Loose | null) => {
      held.current = wanted;
      setKept(wanted);
      remember(looseKey(clip), wanted);
    },
    [clip],
  );
  const picture = useRef<{ frame: number; pose: PosedFigure } | null>(null);
  const asking = useMemo(() => {
    const newest: Newest<Loose> = new Newest(async (now) => {
      const { frame } = now;
      const pack = await clipPoses(clip, {
        start: frame,
        end: frame + 1,
        in_place: latest.current.inPlace,
        edit: editOf(now),
        revision: null,
      });
      const pose = poseIn(pack, 'figure', 0);
      if (newest.wish && pose) picture.current = { frame, pose };
      onShown();
    });
    return newest;
  }, [clip, onShown]);
  const ask = useCallback((wanted: Loose) => void asking.want(wanted), [asking]);

  useEffect(() => {
    if (held.current) ask(held.current);
  }, [ask]);

  const drop = useCallback(() => {
    asking.drop();
    picture.current = null;
    setLoose(null);
    onShown();
  }, [asking, onShown, setLoose]);

  // Once the clip has changed, what was loose is keyed, or stands on another pose.
  const seen = useRef(content);
  useEffect(() => {
    if (seen.current === content) return;
    seen.current = content;
    if (held.current) ask(held.current);
  }, [content, ask]);

  const draw = useCallback(
    (frame: number, change: PoseChange, done: boolean) => {
      const other = held.current;
      if (other && other.frame !== frame) {
        if (done) latest.current.onOtherLoose(other.frame);
        return;
      }
      const before = other ? other.changes : [];
      const wanted = {
        frame,
        changes: [...before, change],
        bothSides: latest.current.bothSides,
      };
      ask(wanted);
      if (!done) return;
      if (latest.current.record) {
        setLoose(null);
        latest.current.onEdit(editOf(wanted));
        return;
      }
      setLoose(wanted);
    },
    [ask, setLoose],
  );

  const cancelDraw = useCallback(() => {
    if (held.current) ask(held.current);
    else drop();
  }, [ask, drop]);

  const key = useCallback(
    (frame: number, joints: readonly string[] | null, kinds: readonly Kind[]) => {
      // What is loose is keyed where it is, and all of it.
      const now = held.current;
      const base = editOf(now ?? { frame, changes: [], bothSides: false });
      setLoose(null);
      latest.current.onEdit({
        ...base,
        kinds: now ? [...KINDS] : [...kinds],
        joints: joints ? [...joints] : null,
      });
    },
    [setLoose],
  );

  const shown = useCallback(
    (frame: number) => (picture.current?.frame === frame ? picture.current.pose : null),
    [],
  );
  // The picture of a pose that was keyed goes when the clip's own frames are here.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another content is what is waited for
  useEffect(() => {
    if (loose === null && !asking.isAwaited) {
      const timer = setTimeout(() => {
        if (!held.current && !asking.isAwaited) {
          picture.current = null;
          onShown();
        }
      }, 400);
      return () => clearTimeout(timer);
    }
    return undefined;
  }, [loose, content, onShown]);

  return useMemo(
    () => ({ loose, shown, draw, cancelDraw, key, drop }),
    [loose, shown, draw, cancelDraw, key, drop],
  );
}
