import { findStint, type Selection } from '../../../desk/selection';
import { BeatCard } from './BeatCard';
import type { CardProps } from './card';
import { FigureCard } from './FigureCard';
import { JoinCard } from './JoinCard';
import { LaneCard } from './LaneCard';
import { SceneCard } from './SceneCard';
import { SeveralCard } from './SeveralCard';
import { StintCard } from './StintCard';

/** The card of what is chosen; without anything chosen the scene's own. */
export function SideCard({ selection, ...props }: CardProps & { selection: Selection | null }) {
  const { desk, scene } = props;
  if (selection?.kind === 'stints') {
    if (selection.ids.length > 1) return <SeveralCard {...props} ids={selection.ids} />;
    const found = findStint(desk, selection.ids[0]);
    if (found) return <StintCard key={found.stint.id} {...props} {...found} />;
  }
  if (selection?.kind === 'join') {
    for (const lane of desk.lanes) {
      const join = lane.joins.find((other) => other.incoming === selection.incoming);
      if (join) return <JoinCard {...props} lane={lane} join={join} />;
    }
  }
  if (selection?.kind === 'lane') {
    const lane = desk.lanes.find((other) => other.id === selection.id);
    if (lane) return <LaneCard key={lane.id} {...props} lane={lane} />;
  }
  if (selection?.kind === 'beat') {
    const beat = desk.beats.find((other) => other.id === selection.id);
    if (beat) return <BeatCard key={beat.id} {...props} beat={beat} />;
  }
  if (selection?.kind === 'figure') {
    const figure = desk.figures.find((other) => other.id === selection.id);
    if (figure) return <FigureCard key={figure.id} {...props} figure={figure} />;
  }
  return <SceneCard key={scene.id} {...props} />;
}
