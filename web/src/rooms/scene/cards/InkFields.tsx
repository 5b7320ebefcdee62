import type { Schemas } from '../../../api/client';
import { FieldLine, NumberBox, Tick } from '../../../app/controls';
import type { CardProps } from './card';

type Ink = Schemas['InkBoil'];

interface InkFieldsProps extends Pick<CardProps, 'onEdit'> {
  /** Whose ink it is: a figure’s, or that of one of its stints. */
  readonly of: Pick<Schemas['BoilInk'], 'figure' | 'stint'>;
  readonly ink: Ink | null | undefined;
  readonly hint: string;
  readonly disabled: boolean;
}

const FIRST: Ink = { amount_cm: 0.6, seed: 1, on: 2 };
const MOST_SEED = 999_999;

/** The outline boils, as if every drawing were traced anew. */
export function InkFields({ of, ink, hint, disabled, onEdit }: InkFieldsProps) {
  const set = (wanted: Ink | null) =>
    onEdit({ kind: 'boil_ink', figure: null, stint: null, ...of, ink: wanted });
  return (
    <>
      <Tick
        label="The ink boils"
        hint={hint}
        checked={ink !== null && ink !== undefined}
        disabled={disabled}
        onChange={(boils) => set(boils ? FIRST : null)}
      />
      {ink && (
        <>
          <FieldLine name="Strays">
            <span className="pair">
              <NumberBox
                label="How far the ink strays"
                value={ink.amount_cm}
                decimals={1}
                unit="cm"
                smallest={0.1}
                largest={20}
                disabled={disabled}
                onCommit={(amount_cm) => set({ ...ink, amount_cm })}
              />
              <NumberBox
                label="How long each tracing stays"
                value={ink.on}
                unit="fr"
                smallest={1}
                largest={240}
                disabled={disabled}
                onCommit={(on) => set({ ...ink, on })}
              />
            </span>
          </FieldLine>
          <FieldLine name="Seed">
            <span className="pair">
              <NumberBox
                label="Seed of the ink"
                value={ink.seed}
                smallest={0}
                largest={MOST_SEED}
                disabled={disabled}
                onCommit={(seed) => set({ ...ink, seed })}
              />
              {!disabled && (
                <button
                  type="button"
                  className="btn btn-paper"
                  onClick={() => set({ ...ink, seed: 1 + Math.floor(Math.random() * MOST_SEED) })}
                >
                  Draw anew
                </button>
              )}
            </span>
          </FieldLine>
        </>
      )}
    </>
  );
}
