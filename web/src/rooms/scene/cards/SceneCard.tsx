import { CardHead } from '../../../app/CardHead';
import { Choice, FieldLine, NumberBox } from '../../../app/controls';
import { counted } from '../../../app/counted';
import { Name } from '../../../app/Name';
import { NameField } from '../../../app/NameField';
import { withKey } from '../../../app/shortcuts';
import type { DeskOptions } from '../../../desk/Transport';
import { useLibrary } from '../../library/useLibrary';
import type { Framing } from '../useFraming';
import type { Guiding } from '../useGuiding';
import type { CardProps } from './card';
import { ExportForm } from './ExportForm';
import { ExposureField } from './ExposureField';

export interface SceneCardProps extends CardProps {
  readonly framing: Framing;
  readonly guiding: Guiding;
  readonly onSlow: () => void;
  readonly onOptions: (options: DeskOptions) => void;
}

/** The scene itself: name, length, backdrop, who is on the stage, and files out. */
export function SceneCard(props: SceneCardProps) {
  const { scene, desk, options, onEdit, onSelect } = props;
  const locked = !scene.may_change;
  const library = useLibrary(scene.production);
  return (
    <aside className="side" aria-label="Scene">
      <CardHead title="Scene" />
      <div className="body">
        <NameField
          label="Name"
          value={scene.name}
          disabled={locked}
          onCommit={(name) => onEdit({ kind: 'rename_scene', name })}
        />
        <FieldLine name="Length">
          <NumberBox
            label="Length of the scene in frames"
            value={desk.laid_frames}
            unit="fr"
            smallest={1}
            disabled={locked}
            onCommit={(laid_frames) => onEdit({ kind: 'set_length', laid_frames })}
          />
        </FieldLine>
        <FieldLine name="Lasts">
          <span className="number">
            {(desk.played_frames / desk.frames_per_second).toFixed(2)} s at {desk.rate} fps
          </span>
        </FieldLine>
        <FieldLine name="Time">
          {desk.laid === null ? (
            <span className="quiet">as laid</span>
          ) : (
            <span>
              {desk.laid_frames} laid, {desk.played_frames} played
            </span>
          )}
        </FieldLine>
        {desk.laid !== null && (
          <FieldLine name="The ruler shows">
            <Choice<'played' | 'laid'>
              label="Which frames the ruler shows; the other ones are faint"
              value={options.ruler}
              onChange={(ruler) => props.onOptions({ ...options, ruler })}
              options={[
                { value: 'played', text: 'played' },
                { value: 'laid', text: 'laid' },
              ]}
            />
          </FieldLine>
        )}
        {!locked && (
          <div className="button-grid">
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Slow or hurry the range that loops', 'slow')}
              onClick={props.onSlow}
            >
              Slow a range
            </button>
            <button
              type="button"
              className="btn btn-paper"
              title={withKey('Take the scene’s elastic out', 'straighten')}
              disabled={desk.laid === null}
              onClick={() => onEdit({ kind: 'straighten', stint: null, ripple: options.ripple })}
            >
              Straighten
            </button>
          </div>
        )}
        <ExposureField
          name="Exposure"
          of={{}}
          exposure={desk.exposure}
          above={null}
          desk={desk}
          disabled={locked}
          onEdit={onEdit}
        />
        <FieldLine name="Camera">
          {desk.camera ? (
            <button
              type="button"
              className="link-button"
              onClick={() => onSelect({ kind: 'camera', key: null })}
            >
              {counted(desk.camera.keys.length, 'key')}
            </button>
          ) : (
            <button
              type="button"
              className="btn btn-paper"
              disabled={locked}
              title="A camera where you look from now, keyed at the playhead"
              onClick={props.framing.keyThisView}
            >
              Set one up here
            </button>
          )}
        </FieldLine>
        <FieldLine name="Backdrop">
          <Choice
            label="Backdrop"
            value={desk.backdrop}
            disabled={locked}
            onChange={(backdrop) => onEdit({ kind: 'set_backdrop', backdrop })}
            options={[
              { value: 'paper', text: 'Paper' },
              { value: 'quay', text: 'Quay' },
            ]}
          />
        </FieldLine>
        <h3>On the stage</h3>
        {desk.figures.length === 0 && (
          <p className="quiet">No one yet. Draw a clip down to the desk.</p>
        )}
        <ul className="plain-list">
          {desk.figures.map((figure) => (
            <li key={figure.id}>
              <button
                type="button"
                className="link-button"
                onClick={() => onSelect({ kind: 'figure', id: figure.id })}
              >
                <Name text={figure.name} />
              </button>
              <span className="quiet">
                {counted(desk.lanes.filter((lane) => lane.figure === figure.id).length, 'lane')}
              </span>
            </li>
          ))}
        </ul>
        {!locked && library.data && (
          <select
            className="form-select"
            aria-label="Bring a figure on"
            value=""
            onChange={(event) => onEdit({ kind: 'add_figure', figure: event.target.value })}
          >
            <option value="">Bring a figure on …</option>
            {library.data.figures
              .filter((figure) => !figure.archived)
              .map((figure) => (
                <option key={figure.id} value={figure.id}>
                  {figure.name}
                </option>
              ))}
          </select>
        )}
        <h3>Guides</h3>
        <ul className="plain-list">
          {desk.guides.map((guide) => (
            <li key={guide.id}>
              <button
                type="button"
                className="link-button"
                onClick={() => onSelect({ kind: 'guide', id: guide.id, key: null })}
              >
                <Name text={guide.name} />
              </button>
              <span className="quiet">carries {guide.carries.length}</span>
            </li>
          ))}
        </ul>
        {!locked && (
          <button
            type="button"
            className="btn btn-paper"
            title="A mark or a turning point that carries figures, keyed where you look, at the playhead"
            onClick={props.guiding.add}
          >
            Set a guide down
          </button>
        )}
        <hr className="hairline" />
        <ExportForm scene={scene} desk={desk} />
      </div>
    </aside>
  );
}
