import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answered, api, sentence } from '../../../api/client';
import { FieldLine } from '../../../app/controls';
import { useNotices } from '../../../app/notices';
import { bodyQuery } from '../bodyQuery';

interface FigureLegsProps {
  readonly figure: string;
  readonly name: string;
  readonly disabled: boolean;
}

const SIDES = ['left', 'right'] as const;
type Side = (typeof SIDES)[number];

/** The feet that are held: read from names and shape, or set by hand for all scenes of the figure. */
export function FigureLegs({ figure, name, disabled }: FigureLegsProps) {
  const { data: body } = useQuery(bodyQuery(figure));
  const notices = useNotices();
  const client = useQueryClient();
  const setting = useMutation({
    mutationFn: (feet: Partial<Record<Side, string>>) =>
      answered(
        api.PUT('/api/figures/{figure_id}/feet', {
          params: { path: { figure_id: figure } },
          body: { feet },
        }),
      ),
    onSuccess: () => client.invalidateQueries(),
    onError: (error) => notices.say(sentence(error)),
  });
  if (!body) return null;
  const feet: Partial<Record<Side, string>> = body.feet;
  const set = (side: Side, joint: string) => {
    const wanted = { ...feet, [side]: joint };
    if (!joint) delete wanted[side];
    setting.mutate(wanted);
  };
  return (
    <section aria-label={`Legs of ${name}`}>
      <h3>
        Its feet{' '}
        <em>{body.legs_by_hand ? 'set by hand, in every scene' : 'by its joints’ names'}</em>
      </h3>
      {SIDES.map((side) => (
        <FieldLine key={side} name={side === 'left' ? 'Left' : 'Right'}>
          <select
            className="form-select"
            aria-label={`The joint that its ${side} leg ends in`}
            disabled={disabled || setting.isPending}
            value={feet[side] ?? ''}
            onChange={({ target }) => set(side, target.value)}
          >
            <option value="">none</option>
            {body.joints.map((joint) => (
              <option key={joint.name} value={joint.name}>
                {joint.label}
              </option>
            ))}
          </select>
        </FieldLine>
      ))}
      {body.legs_by_hand && !disabled && (
        <button
          type="button"
          className="btn btn-paper"
          disabled={setting.isPending}
          onClick={() => setting.mutate({})}
        >
          Read them from names again
        </button>
      )}
    </section>
  );
}
