import type { KeyboardEvent, PointerEvent } from 'react';
import type { Schemas } from '../api/client';
import { IconButton } from '../app/controls';

type Lane = Schemas['DeskLane'];

export type LaneSwitch = 'folded' | 'muted' | 'soloed' | 'locked';

export interface LaneHeadActions {
  readonly choose: (lane: Lane) => void;
  readonly flip: (lane: Lane, which: LaneSwitch) => void;
  readonly grab: (event: PointerEvent, lane: Lane) => void;
  readonly shift: (lane: Lane, rows: number) => void;
}

interface LaneHeadProps {
  readonly lane: Lane;
  readonly height: number;
  readonly chosen: boolean;
  readonly mayChange: boolean;
  readonly actions: LaneHeadActions;
}

/** A lane's name and its switches; drawn up or down it changes places with its neighbours. */
export function LaneHead({ lane, height, chosen, mayChange, actions }: LaneHeadProps) {
  const keys = (event: KeyboardEvent) => {
    const rows = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (event.key === 'Enter') actions.choose(lane);
    else if (event.altKey && rows) actions.shift(lane, rows);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const flip = (which: LaneSwitch, icon: string, on: string, off: string) => (
    <IconButton
      icon={icon}
      label={`${lane.figure_name}, ${lane.name}: ${lane[which] ? on : off}`}
      className={`lane-switch ${lane[which] ? 'is-on' : ''}`}
      pressed={lane[which]}
      disabled={!mayChange}
      onClick={() => actions.flip(lane, which)}
    />
  );
  return (
    <div
      className={`lane-head ${chosen ? 'is-chosen' : ''} ${lane.plays ? '' : 'is-still'} ${lane.folded ? 'is-folded' : ''}`}
      style={{ height }}
    >
      {flip('folded', lane.folded ? 'chevron-right' : 'chevron-down', 'unfold (F)', 'fold (F)')}
      {/* biome-ignore lint/a11y/useSemanticElements: it is drawn as well as pressed */}
      <div
        className="names"
        role="button"
        tabIndex={0}
        aria-pressed={chosen}
        aria-label={`Lane ${lane.name} of ${lane.figure_name}`}
        title={`${lane.figure_name}, ${lane.name}. Press for its card; draw it up or down to move it (Alt up, Alt down)`}
        onPointerDown={(event) => actions.grab(event, lane)}
        onKeyDown={keys}
      >
        <span className="figure">
          {lane.colour && (
            <i className="lane-colour" style={{ background: `var(--${lane.colour})` }} />
          )}
          <span className="clipped">{lane.figure_name}</span>
        </span>
        <span className="lane-name">
          {lane.name}
          {lane.exposure.pattern.join() !== '1' && ` ${lane.exposure.said}`}
          {lane.keeps_own_time && ' own time'}
        </span>
      </div>
      <span className="switches">
        {flip('muted', 'slash-circle', 'let it play (M)', 'mute (M)')}
        {flip('soloed', '1-circle', 'end the solo (O)', 'solo: only this one plays (O)')}
        {flip('locked', lane.locked ? 'lock-fill' : 'unlock', 'unlock (K)', 'lock (K)')}
      </span>
    </div>
  );
}
