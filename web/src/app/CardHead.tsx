import { IconButton } from './controls';

interface HeadProps {
  readonly title: string;
  readonly colour?: string | null;
  readonly onClose?: () => void;
}

/** What a card is of, and the way to close it. */
export function CardHead({ title, colour, onClose }: HeadProps) {
  return (
    <div className="sheet-head">
      {colour && (
        <svg width="20" height="14" aria-hidden="true">
          <rect
            x=".5"
            y=".5"
            width="19"
            height="13"
            fill={`url(#pencil-${colour})`}
            stroke={`var(--${colour})`}
          />
        </svg>
      )}
      <h2 className="text-truncate" title={title}>
        {title}
      </h2>
      <span className="grow" />
      {onClose && <IconButton icon="x-lg" label="Close this card (Esc)" onClick={onClose} />}
    </div>
  );
}
