import type { ReactNode } from 'react';
import { IconButton } from '../../app/controls';
import { useRemembered } from '../../app/remembered';

interface SectionProps {
  readonly name: string;
  readonly count: number;
  readonly tools?: ReactNode;
  readonly children: ReactNode;
}

/** Something else in the drawer, under the clips; folded, only its head is there. */
export function DrawerSection({ name, count, tools, children }: SectionProps) {
  const [isOpen, setOpen] = useRemembered(`hours/drawer/${name}`, true);
  return (
    <section className={`sounds ${isOpen ? '' : 'is-folded'}`} aria-label={name}>
      <div className="sheet-head">
        <h2>{name}</h2>
        <span className="quiet number">{count}</span>
        <span className="grow" />
        {tools}
        <IconButton
          icon={isOpen ? 'chevron-down' : 'chevron-right'}
          label={isOpen ? `Fold the ${name.toLowerCase()}` : `Unfold the ${name.toLowerCase()}`}
          onClick={() => setOpen(!isOpen)}
        />
      </div>
      {isOpen && children}
    </section>
  );
}
