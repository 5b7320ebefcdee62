import { pictureShown, type RunCard } from '../../../api/drawings';
import { Name } from '../../../app/Name';
import { PencilMark } from '../../library/ClipFacts';
import { DrawerSection } from '../DrawerSection';
import { FlyingName } from '../FlyingName';
import { type Flight, useFlight } from '../useFlight';
import type { RunToLay } from './useRuns';

interface ListProps extends Flight<RunToLay> {
  readonly production: string;
  readonly runs: readonly RunCard[];
  readonly mayChange: boolean;
  readonly fresh: (run: RunCard) => RunToLay;
  /** Without a mouse: lay it at the playhead, or as a layer. */
  readonly onPlace: (run: RunToLay) => void;
}

/** The production’s runs of drawings, to be drawn down onto the desk as clips are. */
export function RunList(props: ListProps) {
  const { production, runs, mayChange, fresh, onPlace } = props;
  const { flying, grab } = useFlight(props);
  return (
    <DrawerSection name="Drawings" count={runs.length}>
      {runs.length === 0 && (
        <p className="quiet p-3">No drawings yet. Drop numbered pictures on the library.</p>
      )}
      <ul className="clips">
        {runs.map((run) => (
          <li key={run.id}>
            {/* biome-ignore lint/a11y/useSemanticElements: a card that is dragged, with a button's role and keys */}
            <div
              className="slip clip is-pressable"
              role="button"
              tabIndex={0}
              aria-label={`${run.name}, ${run.length_frames} frames of drawings. Drag it to a lane of its drawings, or below the lanes for a layer of its own; Enter does so at the playhead.`}
              data-run={run.name}
              onPointerDown={(event) => mayChange && grab(event, fresh(run))}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' || !mayChange) return;
                event.stopPropagation();
                onPlace(fresh(run));
              }}
            >
              <span className="line">
                <PencilMark colour={run.colour} />
                <Name className="name" text={run.name} />
                <span className="length number">{run.length_frames} fr</span>
              </span>
              <span className="drawing-strip is-low" aria-hidden="true">
                {run.strip.slice(0, 5).map((file) => (
                  <img key={file} src={pictureShown(production, file, 'small')} alt="" />
                ))}
              </span>
            </div>
          </li>
        ))}
      </ul>
      {flying && <FlyingName at={flying} name={flying.what.run.name} />}
    </DrawerSection>
  );
}
