import { createPortal } from 'react-dom';

interface FlyingProps {
  readonly at: { readonly x: number; readonly y: number };
  readonly name: string;
}

/** What is drawn from the drawer, beside the hand. */
export function FlyingName({ at, name }: FlyingProps) {
  return createPortal(
    <div className="flying-clip" style={{ left: at.x + 12, top: at.y + 10 }}>
      {name}
    </div>,
    document.body,
  );
}
