import { Choice } from '../../../app/controls';
import type { SideTab } from '../benchMemory';
import { BeatsCard } from './BeatsCard';
import { CycleCard } from './CycleCard';
import type { CardProps } from './card';
import { FeetCard } from './FeetCard';
import { SeamCard } from './SeamCard';
import { UsesCard } from './UsesCard';
import { WalkCard } from './WalkCard';

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
