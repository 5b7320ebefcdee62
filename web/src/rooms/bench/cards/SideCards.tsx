import type { Chosen, Clip, ClipEdit } from '../../../api/clips';
import { Choice } from '../../../app/controls';
import type { Player } from '../../../player/player';
import type { SideTab } from '../benchMemory';
import type { FrameWindow } from '../curvePicture';
import { BeatsCard } from './BeatsCard';
import { CycleCard } from './CycleCard';
import { FeetCard } from './FeetCard';
import { SeamCard } from './SeamCard';
import { UsesCard } from './UsesCard';
import { WalkCard } from './WalkCard';

export interface CardProps {
  readonly clip: Clip;
  readonly player: Player;
  readonly joints: readonly string[];
  readonly onEdit: (edit: ClipEdit) => void;
  readonly onPreview: (edit: ClipEdit | null) => void;
  readonly onJoints: (joints: readonly string[]) => void;
  readonly onKeys: (keys: Chosen) => void;
  /** The chosen beat. */
  readonly beat: string | null;
  readonly onBeat: (beat: string | null) => void;
  /** Moved keys land on whole frames. */
  readonly snap: boolean;
  readonly onSnap: (snap: boolean) => void;
  /** Show curves round these frames. */
  readonly onFrame: (window: FrameWindow) => void;
}

const TABS: readonly { readonly value: SideTab; readonly text: string }[] = [
  { value: 'seam', text: 'Seam' },
  { value: 'walk', text: 'Walk' },
  { value: 'feet', text: 'Feet' },
  { value: 'cycle', text: 'Cycle' },
  { value: 'beats', text: 'Beats' },
  { value: 'uses', text: 'Uses' },
];

interface SideCardsProps extends CardProps {
  readonly tab: SideTab;
  readonly onTab: (tab: SideTab) => void;
}

export function SideCards({ tab, onTab, ...card }: SideCardsProps) {
  return (
    <section className="bench-cards" aria-label="Cards">
      <Choice<SideTab>
        label="Card"
        className="card-tabs"
        value={tab}
        onChange={onTab}
        options={TABS}
      />
      <div className="body">
        {tab === 'seam' && <SeamCard {...card} />}
        {tab === 'walk' && <WalkCard {...card} />}
        {tab === 'feet' && <FeetCard {...card} />}
        {tab === 'cycle' && <CycleCard {...card} />}
        {tab === 'beats' && <BeatsCard {...card} />}
        {tab === 'uses' && <UsesCard clip={card.clip} />}
      </div>
    </section>
  );
}
