import { useEffect, useRef } from 'react';
import type { LineEdit } from '../../api/lines';
import type { Player } from '../../player/player';

interface Tap {
  readonly frame: number;
  readonly mouth: string;
}

/** Mouths tapped while the line plays, each until the next one and the last until play ends, as one edit. */
export function tapped(taps: readonly Tap[], end: number): LineEdit | null {
  const mouths = taps.flatMap(({ frame, mouth }, place) => {
    const until = taps[place + 1]?.frame ?? end;
    return until > frame ? [{ frame, length: until - frame, mouth }] : [];
  });
  return mouths.length ? { kind: 'expose_mouths', mouths } : null;
}

interface Options {
  readonly player: Player;
  readonly onEdit: (edit: LineEdit) => void;
  readonly onPreview: (edit: LineEdit | null) => void;
}

/** Tap along: what is pressed in play is kept until it ends. Says whether a mouth was taken. */
export function useTapping({ player, onEdit, onPreview }: Options): (mouth: string) => boolean {
  const taps = useRef<Tap[]>([]);
  const latest = useRef({ onEdit, onPreview });
  latest.current = { onEdit, onPreview };
  useEffect(() => {
    const settle = (end: number) => {
      const edit = tapped(taps.current, end);
      taps.current = [];
      if (edit) latest.current.onEdit(edit);
    };
    let before = player.frame;
    const offs = [
      player.onFrame((frame) => {
        // Round and round, each round is a step of its own.
        if (taps.current.length && frame < before) settle(before + 1);
        before = frame;
      }),
      player.subscribe(() => {
        if (taps.current.length && !player.snapshot().playing) settle(player.frame + 1);
      }),
    ];
    return () => {
      for (const off of offs) off();
    };
  }, [player]);
  return (mouth) => {
    const { playing, backwards } = player.snapshot();
    if (!playing || backwards) return false;
    const { frame } = player;
    taps.current = [...taps.current.filter((tap) => tap.frame !== frame), { frame, mouth }];
    latest.current.onPreview(tapped(taps.current, frame + 1));
    return true;
  };
}
