import { useRef, useState } from 'react';
import type { ClipEdit } from '../../api/clips';
import { Choice, IconButton, NumberBox } from '../../app/controls';
import type { Player } from '../../player/player';
import { withBenchKey } from './benchKeys';
import type { FavourWish, Scope } from './benchMemory';
import { KINDS, type Kind } from './kinds';

interface FavourProps {
  readonly player: Player;
  readonly joints: readonly string[];
  readonly wish: FavourWish;
  readonly mayChange: boolean;
  readonly onWish: (part: Partial<FavourWish>) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onEdit: (edit: ClipEdit) => void;
}

const [LEAST, MOST] = [-50, 150];
const MARKS = [
  [-37, 'anticipate'],
  [0, 'previous'],
  [50, 'halfway'],
  [100, 'next'],
  [137, 'overshoot'],
] as const;

export function favourEdit(
  frame: number,
  joints: readonly string[],
  wish: FavourWish,
): ClipEdit & { kind: 'favour' } {
  return {
    kind: 'favour',
    frame,
    share: wish.share / 100,
    scope: joints.length ? wish.scope : 'whole',
    joints: [...joints],
    kinds: [...wish.kinds],
    fence_frames: wish.fence,
  };
}

/** The in-between slider: from the key before to the key after, and beyond either. */
export function FavourStrip(props: FavourProps) {
  const { player, joints, wish, mayChange, onWish, onPreview, onEdit } = props;
  const [drawn, setDrawn] = useState<number | null>(null);
  const frame = useRef(0);
  const share = drawn ?? wish.share;
  const editAt = (value: number) => favourEdit(frame.current, joints, { ...wish, share: value });
  const show = (value: number) => {
    if (drawn === null) {
      player.pause();
      frame.current = player.frame;
    }
    setDrawn(value);
    onPreview(editAt(value));
  };
  const keep = () => {
    if (drawn === null) return;
    onWish({ share: drawn });
    onEdit(editAt(drawn));
    setDrawn(null);
  };
  const toggle = (kind: Kind) => {
    const kinds = wish.kinds.includes(kind)
      ? wish.kinds.filter((other) => other !== kind)
      : [...wish.kinds, kind];
    if (kinds.length) onWish({ kinds });
  };
  const placeOf = (value: number) => `${((value - LEAST) / (MOST - LEAST)) * 100}%`;
  return (
    <section className="favour" aria-label="Favour">
      <div className="favour-title">
        <b>Favour</b>
        <span className="quiet number">{Math.round(share)} % to next</span>
      </div>
      <div className="favour-slide">
        <svg viewBox="0 0 400 22" preserveAspectRatio="none" aria-hidden="true">
          <path className="before" d="M0 2L100 8V14L0 20Z" />
          <path className="between" d="M100 8H300V14H100Z" />
          <path className="after" d="M300 8L400 2V20L300 14Z" />
        </svg>
        <input
          type="range"
          id="favour"
          aria-label="Favour, in percent to the next key"
          title={withBenchKey('From the key before to the key after', 'favour')}
          min={LEAST}
          max={MOST}
          step={1}
          value={share}
          disabled={!mayChange}
          onChange={(event) => show(Number(event.target.value))}
          onPointerUp={keep}
          onKeyUp={(event) => {
            if (event.key === 'Escape') {
              setDrawn(null);
              onPreview(null);
            } else if (event.key === 'Enter') keep();
          }}
          onBlur={keep}
        />
        {MARKS.map(([value, words]) => (
          <span key={words} className="favour-mark" style={{ left: placeOf(value) }}>
            {words}
          </span>
        ))}
      </div>
      <IconButton
        icon="arrow-repeat"
        label={withBenchKey(`Favour ${Math.round(wish.share)} % here too`, 'favourAgain')}
        disabled={!mayChange}
        onClick={() => onEdit(favourEdit(player.frame, joints, wish))}
      />
      <span className="toggle-pair">
        {KINDS.map((kind) => (
          <button
            key={kind}
            type="button"
            className="btn btn-paper"
            aria-pressed={wish.kinds.includes(kind)}
            onClick={() => toggle(kind)}
          >
            {kind}
          </button>
        ))}
      </span>
      <Choice<Scope>
        label="What is favoured"
        value={joints.length ? wish.scope : 'whole'}
        onChange={(scope) => onWish({ scope })}
        options={[
          { value: 'chosen', text: 'chosen', hint: 'The chosen joints' },
          { value: 'all_but_chosen', text: 'all but', hint: 'All but the chosen joints' },
          { value: 'whole', text: 'whole', hint: 'The whole figure' },
        ]}
      />
      <span
        className="pair"
        title="Key the neighbours so many frames away first: nothing else changes"
      >
        fence
        <NumberBox
          label="Fence, in frames (0: none)"
          value={wish.fence ?? 0}
          smallest={0}
          unit="fr"
          onCommit={(value) => onWish({ fence: value > 0 ? value : null })}
        />
      </span>
    </section>
  );
}
