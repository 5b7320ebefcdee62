import { useState } from 'react';
import type { Schemas } from '../../api/client';
import type { Mapping } from '../../app/FitTable';
import { useNotices } from '../../app/notices';
import { findStint, stintEndingAt, stintEndingNear } from '../../desk/selection';
import type { DeskHit } from '../../desk/TimeDesk';
import type { Laid } from './ClipDrawer';
import type { Fitted } from './FitSheet';
import type { Edit, SceneState } from './useScene';

type Lane = Schemas['DeskLane'];

/** A clip of another figure on its way to a lane: it asks first which of its joints play. */
interface Fitting {
  readonly what: Fitted;
  readonly figure: Schemas['SceneFigure'];
  readonly edit: (mapping: Mapping) => Edit;
}

export interface Laying {
  readonly target: DeskHit | null;
  readonly fitting: Fitting | null;
  readonly over: (laid: Laid, hit: DeskHit | null) => void;
  readonly drop: (laid: Laid, hit: DeskHit | null) => void;
  readonly letGo: () => void;
  readonly next: (laid: Laid, after: string | undefined) => void;
  /** Copies that go to a lane of another figure ask how they fit; false where nothing has to be asked. */
  readonly asks: (what: Fitted & { readonly madeFor: string }, lane: string, edit: Edit) => boolean;
  readonly fit: (mapping: Mapping) => void;
  readonly neverMind: () => void;
}

const clipOf = ({ clip }: Laid): Fitted => ({ kind: 'clip', id: clip.id, name: clip.name });

/** Clips laid on the desk: at a frame, or next to a stint where they join it best. */
export function useLaying(desk: Schemas['Desk'], state: SceneState, ripple: boolean): Laying {
  const notices = useNotices();
  const [target, setTarget] = useState<DeskHit | null>(null);
  const [fitting, setFitting] = useState<Fitting | null>(null);
  const laneOf = (id: string | null) => desk.lanes.find((lane) => lane.id === id);

  const placed = ({ clip, stint }: Laid, { lane, frame }: DeskHit): Edit => ({
    kind: 'place_stint',
    stint,
    source: { kind: 'clip', id: clip.id },
    start: Math.max(0, Math.round(frame)),
    // A lane that only the preview shows is not there yet.
    lane: laneOf(lane) ? lane : null,
    ripple,
  });
  const nextTo = ({ clip, stint }: Laid, after: string): Edit => ({
    kind: 'lay_next',
    stint,
    source: { kind: 'clip', id: clip.id },
    after,
  });
  const edit = (laid: Laid, hit: DeskHit): Edit => {
    const after = stintEndingAt(desk, hit, laid.clip.figure);
    return after ? nextTo(laid, after) : placed(laid, hit);
  };
  /** Whose clips a lane does not play yet. */
  const strange = (madeFor: string, lane: Lane | undefined) =>
    lane?.target.kind === 'body' && !lane.fixes && !lane.takes_clips_of.includes(madeFor)
      ? desk.figures.find((other) => other.id === lane.figure)
      : undefined;

  const ask = (what: Fitted, figure: Schemas['SceneFigure'], wanted: Edit) =>
    setFitting({ what, figure, edit: (mapping) => ({ ...wanted, mapping }) as Edit });

  return {
    target,
    fitting,
    over: (laid, hit) => {
      setTarget(hit);
      state.showPreview(
        hit && !strange(laid.clip.figure, laneOf(hit.lane)) ? edit(laid, hit) : null,
      );
    },
    drop: (laid, hit) => {
      setTarget(null);
      const lane = hit ? laneOf(hit.lane) : undefined;
      const figure = strange(laid.clip.figure, lane);
      if (!hit || figure) state.showPreview(null);
      else state.edit(edit(laid, hit));
      if (!hit || !lane || !figure) return;
      const after = stintEndingNear(lane, hit.frame);
      const wanted = after ? nextTo(laid, after) : placed(laid, hit);
      ask(clipOf(laid), figure, wanted);
    },
    letGo: () => {
      setTarget(null);
      state.showPreview(null);
    },
    next: (laid, after) => {
      if (!after) {
        notices.say('Choose the stint that it is to follow first.');
        return;
      }
      const wanted = nextTo(laid, after);
      const figure = strange(laid.clip.figure, findStint(desk, after)?.lane);
      if (figure) ask(clipOf(laid), figure, wanted);
      else state.edit(wanted);
    },
    asks: ({ madeFor, ...what }, lane, wanted) => {
      const figure = strange(madeFor, laneOf(lane));
      if (figure) ask(what, figure, wanted);
      return figure !== undefined;
    },
    fit: (mapping) => {
      if (fitting) state.edit(fitting.edit(mapping));
      setFitting(null);
    },
    neverMind: () => setFitting(null),
  };
}
