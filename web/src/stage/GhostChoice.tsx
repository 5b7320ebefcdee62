import type { ReactNode } from 'react';
import { Dropdown } from 'react-bootstrap';
import { Tick } from '../app/controls';
import type { Ghosts } from './scene';

interface GhostChoiceProps {
  readonly ghosts: Ghosts;
  readonly onGhosts: (part: Partial<Ghosts>) => void;
  readonly hint: string;
  /** Which ghosts: read aloud, and in short. */
  readonly name: string;
  readonly short: ReactNode;
  /** Its fields. */
  readonly children: ReactNode;
}

/** Whether ghosts are drawn, and which. */
export function GhostChoice(props: GhostChoiceProps) {
  const { ghosts, onGhosts, hint, name, short, children } = props;
  return (
    <span className="ghost-choice">
      <Tick
        label="Ghosts"
        hint={hint}
        checked={ghosts.shown}
        onChange={(shown) => onGhosts({ shown })}
      />
      <Dropdown align="end">
        <Dropdown.Toggle
          bsPrefix="quiet-toggle"
          as="button"
          aria-label={name}
          disabled={!ghosts.shown}
        >
          {short}
        </Dropdown.Toggle>
        <Dropdown.Menu popperConfig={{ strategy: 'fixed' }} className="ghost-menu">
          {children}
        </Dropdown.Menu>
      </Dropdown>
    </span>
  );
}
