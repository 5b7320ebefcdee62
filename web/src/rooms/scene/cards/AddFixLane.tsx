import type { CardProps } from './card';

/** A lane of corrections over all lanes of a figure. */
export function AddFixLane({
  figure,
  onEdit,
}: Pick<CardProps, 'onEdit'> & { readonly figure: string }) {
  return (
    <button
      type="button"
      className="btn btn-paper"
      title="A lane over this figure’s on which it is posed over what plays: each fix fades in and out"
      onClick={() => onEdit({ kind: 'add_fix_lane', figure })}
    >
      Add a fix lane
    </button>
  );
}
