import { Choice } from '../../../app/controls';
import type { TakesRoomParts } from '../room';
import type { TakeTab } from '../takesMemory';
import type { TakeHands } from '../useTakeActions';
import { BeatsCard } from './BeatsCard';
import { CycleCard } from './CycleCard';
import { FigureCard } from './FigureCard';
import { LostCard } from './LostCard';
import { SpikesCard } from './SpikesCard';

const TABS: readonly { readonly value: TakeTab; readonly text: string; readonly hint: string }[] = [
  { value: 'cycle', text: 'Cycle', hint: 'Find a cycle in it' },
  { value: 'lost', text: 'Lost', hint: 'What every joint lost' },
  { value: 'spikes', text: 'Spikes', hint: 'Spikes found, refused and marked' },
  { value: 'figure', text: 'Figure', hint: 'Onto a figure' },
  { value: 'beats', text: 'Cut up', hint: 'Beats that become clips' },
];

interface SideProps {
  readonly room: TakesRoomParts;
  readonly hands: TakeHands;
}

/** What is beside the stage of a take. */
export function SideCards({ room, hands }: SideProps) {
  const { tab } = room.memory;
  return (
    <aside className="side take-side" aria-label="Cards">
      <Choice<TakeTab>
        label="Card"
        className="card-tabs"
        value={tab}
        onChange={(wanted) => room.change({ tab: wanted })}
        options={TABS}
      />
      <div className="body">
        {tab === 'cycle' && <CycleCard room={room} hands={hands} />}
        {tab === 'lost' && <LostCard room={room} />}
        {tab === 'spikes' && <SpikesCard room={room} />}
        {tab === 'figure' && <FigureCard room={room} />}
        {tab === 'beats' && <BeatsCard room={room} hands={hands} />}
      </div>
    </aside>
  );
}
