interface ComingProps {
  readonly name: string;
  readonly share: number;
  readonly onCancel: () => void;
}

/** A sound on its way in: how much of it is sent, and then that it is read. */
export function SoundComing({ name, share, onCancel }: ComingProps) {
  return (
    <div className="sound-coming" role="status">
      <span className="clipped">{name}</span>
      <progress max={1} value={share} aria-label={`${name}, sent`} />
      <span className="quiet">{share < 1 ? `${Math.floor(100 * share)} %` : 'is read'}</span>
      {share < 1 && (
        <button type="button" className="btn btn-paper" onClick={onCancel}>
          Cancel
        </button>
      )}
    </div>
  );
}
