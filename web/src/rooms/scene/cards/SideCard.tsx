import type { Schemas } from '../../../api/client';
import { findSound, findStint, fixLaneOf, type Selection } from '../../../desk/selection';
import type { Framing } from '../useFraming';
import type { Guiding } from '../useGuiding';
import type { Edit } from '../useScene';
import { BeatCard } from './BeatCard';
import { CameraCard } from './CameraCard';
import type { CardProps } from './card';
import { FigureCard } from './FigureCard';
import { FixCard } from './FixCard';
import { GuideCard } from './GuideCard';
import { JoinCard, type JoinCardProps } from './JoinCard';
import { LaneCard, type LaneCardProps } from './LaneCard';
import { PinCard } from './PinCard';
import { SceneCard, type SceneCardProps } from './SceneCard';
import { SeveralCard } from './SeveralCard';
import { SlowCard } from './SlowCard';
import { SoundCard } from './SoundCard';
import { SoundLaneCard } from './SoundLaneCard';
import { StintCard, type StintCardProps } from './StintCard';

/** The card of what is chosen; without anything chosen the scene's own. */
type SideCardProps = CardProps &
  Pick<JoinCardProps, 'standing' | 'drawn' | 'onPair'> &
  Pick<LaneCardProps, 'fixOptions' | 'onFixOptions'> &
  Pick<StintCardProps, 'crossing'> & {
    selection: Selection | null;
    /** The strands that a chosen pin is one of. */
    pinned: Schemas['Strands'] | null;
    framing: Framing;
    guiding: Guiding;
    onSlow: () => void;
    onOptions: SceneCardProps['onOptions'];
    onPreview: (edit: Edit | null) => void;
  };

export function SideCard(all: SideCardProps) {
  const { selection, standing, drawn, onPair, fixOptions, onFixOptions, crossing, ...rest } = all;
  const { pinned, onSlow, onPreview, framing, guiding, onOptions, ...props } = rest;
  const { desk, scene } = props;
  if (selection?.kind === 'stints') {
    if (selection.ids.length > 1) return <SeveralCard {...props} ids={selection.ids} />;
    const found = findStint(desk, selection.ids[0]);
    if (found) {
      const own = { crossing, onSlow, drawn, head: props.head.on(found.lane) };
      return <StintCard key={found.stint.id} {...props} {...found} {...own} />;
    }
  }
  if (selection?.kind === 'join') {
    for (const lane of desk.lanes) {
      const join = [...lane.joins, ...lane.cuts].find(
        (other) => other.incoming === selection.incoming,
      );
      const own = { lane, join, standing, drawn, onPair, head: props.head.on(lane) };
      if (join) return <JoinCard key={join.incoming} {...props} {...own} join={join} />;
    }
  }
  if (selection?.kind === 'lane') {
    const lane = desk.lanes.find((other) => other.id === selection.id);
    const own = lane && { lane, fixOptions, onFixOptions, head: props.head.on(lane) };
    if (own) return <LaneCard key={own.lane.id} {...props} {...own} />;
  }
  if (selection?.kind === 'fix') {
    const lane = fixLaneOf(desk, selection);
    const fix = lane?.fixes?.find((other) => other.id === selection.id);
    const own = lane && fix && { lane, fix, head: props.head.on(lane) };
    if (own) return <FixCard key={own.fix.id} {...props} {...own} />;
  }
  if (selection?.kind === 'beat') {
    const beat = desk.beats.find((other) => other.id === selection.id);
    if (beat) return <BeatCard key={beat.id} {...props} {...{ beat, onSlow }} />;
  }
  const heard = findSound(desk, selection);
  if (heard) return <SoundCard key={heard.sound.id} {...props} {...heard} />;
  if (selection?.kind === 'soundLane') {
    const lane = desk.sound_lanes.find((other) => other.id === selection.id);
    if (lane) return <SoundLaneCard key={lane.id} {...props} lane={lane} />;
  }
  if (selection?.kind === 'figure') {
    const figure = desk.figures.find((other) => other.id === selection.id);
    if (figure) return <FigureCard key={figure.id} {...props} figure={figure} />;
  }
  if (selection?.kind === 'camera' && desk.camera)
    return (
      <CameraCard
        {...props}
        {...{ framing, camera: desk.camera, head: props.head.on(desk.camera) }}
        chosen={selection.key}
      />
    );
  if (selection?.kind === 'guide') {
    const guide = desk.guides.find((other) => other.id === selection.id);
    const own = guide && { guide, guiding, head: props.head.on(guide) };
    if (own) return <GuideCard key={own.guide.id} {...props} {...own} chosen={selection.key} />;
  }
  if (selection?.kind === 'slow')
    return <SlowCard {...props} {...{ standing, onPreview }} wish={selection} />;
  if (selection?.kind === 'pin' && pinned && selection.pin < pinned.pins.length) {
    const stint = selection.stint === null ? null : findStint(desk, selection.stint)?.stint;
    const pin = { stint: stint ?? null, place: selection.pin, strands: pinned };
    return <PinCard {...props} {...pin} />;
  }
  return <SceneCard key={scene.id} {...props} {...{ onSlow, framing, guiding, onOptions }} />;
}
