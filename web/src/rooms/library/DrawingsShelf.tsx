import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { Schemas } from '../../api/client';
import { pictureShown } from '../../api/drawings';
import { Name } from '../../app/Name';

interface StripProps {
  readonly production: string;
  readonly files: readonly string[];
  readonly label: string;
}

/** The first drawings of a set or a run, beside each other. */
function DrawingStrip({ production, files, label }: StripProps) {
  return (
    <span className="drawing-strip" role="img" aria-label={label}>
      {files.map((file, place) => (
        <img
          // biome-ignore lint/suspicious/noArrayIndexKey: one picture may stand twice
          key={place}
          src={pictureShown(production, file, 'small')}
          alt=""
          loading="lazy"
        />
      ))}
    </span>
  );
}

const PLAYS: Readonly<Record<Schemas['RunCard']['play'], string>> = {
  once: 'plays once',
  repeat: 'repeats',
  bounce: 'there and back',
  backwards: 'backwards',
  boil: 'boils',
};

const usedIn = (uses: readonly Schemas['UsedIn'][]): string =>
  uses.length ? `in ${uses.map((use) => use.name).join(', ')}` : 'in no scene yet';

interface RunProps {
  readonly production: string;
  readonly run: Schemas['RunCard'];
  readonly tags: ReactNode;
  readonly menu: ReactNode;
}

/** A run of the library, with its first drawings. */
export function RunCard({ production, run, tags, menu }: RunProps) {
  return (
    <div className="slip">
      <span className="line">
        <Link className="name" to={`/runs/${run.id}`} title={`${run.name}, on the light table`}>
          {run.name}
        </Link>
        <span className="length number">{run.length_frames} fr</span>
      </span>
      <DrawingStrip
        production={production}
        files={run.strip}
        label={`${run.name}, its first drawings`}
      />
      <span className="quiet">
        {run.count} drawings, {PLAYS[run.play]}, {run.rate} fps
      </span>
      <Name className="quiet" text={usedIn(run.used_in)} />
      {tags}
      {menu}
    </div>
  );
}

interface SetProps {
  readonly production: string;
  readonly drawings: Schemas['DrawingsCard'];
  readonly onRun: (() => void) | null;
  readonly onCutOut: (() => void) | null;
  readonly tags: ReactNode;
  readonly menu: ReactNode;
}

/** A drawing set of the library. */
export function DrawingsCard({ production, drawings, onRun, onCutOut, tags, menu }: SetProps) {
  const { missing } = drawings;
  return (
    <div className="slip">
      <span className="line">
        <Name className="name" text={drawings.name} />
        <span className="length number">{drawings.drawings} drawings</span>
      </span>
      <DrawingStrip
        production={production}
        files={drawings.strip}
        label={`${drawings.name}, some of its drawings`}
      />
      {onRun && (
        <button
          type="button"
          className="btn btn-quiet"
          aria-label={`Make a run of ${drawings.name}`}
          onClick={onRun}
        >
          Make a run of it …
        </button>
      )}
      {onCutOut && (
        <button
          type="button"
          className="btn btn-quiet"
          aria-label={`Cut a figure out of ${drawings.name}`}
          title="Of a layered set, one picture each part"
          onClick={onCutOut}
        >
          Cut a figure out of it …
        </button>
      )}
      <span className="quiet">
        {missing ? (
          <b className="is-lacking">
            {missing} {missing === 1 ? 'number is' : 'numbers are'} missing
          </b>
        ) : (
          usedIn(drawings.used_in)
        )}
      </span>
      {tags}
      {menu}
    </div>
  );
}

interface CutOutProps {
  readonly cutOut: Schemas['CutOutCard'];
  readonly tags: ReactNode;
  readonly menu: ReactNode;
}

/** A cut-out of the library: how a figure is cut out of a set. */
export function CutOutCard({ cutOut, tags, menu }: CutOutProps) {
  return (
    <div className="slip">
      <span className="line">
        <Link className="name" to={`/cut-outs/${cutOut.id}`} title={`${cutOut.name}, on the table`}>
          {cutOut.name}
        </Link>
        <span className="length number">{cutOut.parts} parts</span>
      </span>
      {tags}
      {menu}
    </div>
  );
}
