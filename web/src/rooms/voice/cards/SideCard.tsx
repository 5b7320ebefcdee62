import { Choice } from '../../../app/controls';
import type { VoiceRoomParts } from '../room';
import type { VoiceHands } from '../useVoiceActions';
import type { VoiceTab } from '../voiceMemory';
import { FaceCard } from './FaceCard';
import { RulesCard } from './RulesCard';
import { TextCard } from './TextCard';

interface Props {
  readonly room: VoiceRoomParts;
  readonly hands: VoiceHands;
}

/** The rules for mouths, what is said, or where the mouth stands. */
export function SideCard({ room, hands }: Props) {
  const { memory, change } = room;
  return (
    <aside className="voice-side" aria-label="The line">
      <Choice<VoiceTab>
        label="What the card shows"
        value={memory.tab}
        onChange={(tab) => change({ tab })}
        options={[
          { value: 'mouths', text: 'Rules' },
          { value: 'text', text: 'The text' },
          { value: 'face', text: 'On the face' },
        ]}
      />
      {memory.tab === 'mouths' && <RulesCard room={room} hands={hands} />}
      {memory.tab === 'text' && <TextCard key={room.line.id} room={room} hands={hands} />}
      {memory.tab === 'face' && <FaceCard room={room} />}
    </aside>
  );
}
