import type { ElementType } from 'react';

interface NameProps {
  readonly text: string;
  readonly as?: ElementType;
  readonly className?: string;
}

/** A name, or names, on one line: clipped where there is no room, and whole in its title. */
export function Name({ text, as: Tag = 'span', className = '' }: NameProps) {
  return (
    <Tag className={`clipped ${className}`} title={text}>
      {text}
    </Tag>
  );
}
