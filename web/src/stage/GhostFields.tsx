import { FieldLine, NumberBox } from '../app/controls';
import type { Ghosts } from './scene';

const MOST_GHOSTS = 6;

interface GhostFieldsProps {
  readonly ghosts: Ghosts;
  readonly onGhosts: (part: Partial<Ghosts>) => void;
}

/** How many ghosts stand on either side, and how many frames apart. */
export function GhostFields({ ghosts, onGhosts }: GhostFieldsProps) {
  return (
    <>
      <FieldLine name="On either side">
        <NumberBox
          label="Ghosts on either side"
          value={ghosts.count}
          smallest={1}
          largest={MOST_GHOSTS}
          onCommit={(count) => onGhosts({ count: Math.round(count) })}
        />
      </FieldLine>
      {!ghosts.ofKeys && (
        <FieldLine name="Frames apart">
          <NumberBox
            label="Frames between ghosts"
            value={ghosts.step}
            smallest={1}
            onCommit={(step) => onGhosts({ step: Math.round(step) })}
          />
        </FieldLine>
      )}
    </>
  );
}
