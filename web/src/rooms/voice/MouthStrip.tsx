import { useState } from 'react';
import { heldAt } from '../../player/heldAt';
import { useFrame } from '../../player/useFrame';
import { NewChartSheet } from '../library/NewChartSheet';
import { useLibrary } from '../library/useLibrary';
import { ChartSheet } from './ChartSheet';
import { MouthImage } from './EitherSide';
import { FIRST_FRAME } from './firstFrame';
import type { VoiceRoomParts } from './room';
import { written } from './spoken';

/** What is chosen to make a chart. */
const NEW = 'new';

/** The phones that a mouth stands for. */
const saidBy = ({ key, phones }: VoiceRoomParts['sheet']['mouths'][number]): string =>
  phones.map(written).join(' ') || (key === 'rest' ? 'silence' : 'by hand');

/** The chart’s mouths with their numbers and phones: press one to expose it here. */
export function MouthStrip({ room }: { readonly room: VoiceRoomParts }) {
  const { sheet, chart, player, line, expose, pictures, onEdit, change } = room;
  const library = useLibrary(line.production).data;
  const charts = library?.charts.filter((one) => one.part === 'mouth' && !one.archived) ?? [];
  const frame = useFrame(player);
  const shown = heldAt(sheet.run, frame)?.mouth;
  const [sheetShown, setSheetShown] = useState(false);
  const [newShown, setNewShown] = useState(false);
  const stoodIn = Object.entries(sheet.told.stood_in);
  const standsIn = stoodIn
    .map(([phone, key]) => `${key} stands in for ${written(phone)}`)
    .join(', ');
  return (
    <section className="mouth-chart" aria-label="Mouth chart">
      <header>
        <h2>Mouth chart</h2>
        {line.may_change ? (
          <select
            className="form-select chart-choice"
            aria-label="The chart that the line is exposed by"
            value={sheet.chart}
            onChange={({ target }) =>
              target.value === NEW
                ? setNewShown(true)
                : onEdit({ kind: 'use_chart', chart: target.value })
            }
          >
            <option value="">Our ten mouths</option>
            {charts.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
            <option value={NEW}>A new chart …</option>
          </select>
        ) : (
          <span className="quiet">{chart?.name ?? 'Our ten mouths'}</span>
        )}
        <span className="quiet">{sheet.mouths.length} drawings</span>
        {stoodIn.length > 0 && (
          <span className="stood-in" role="note" title={standsIn}>
            {standsIn}
          </span>
        )}
        {chart && (
          <button type="button" className="btn btn-quiet" onClick={() => setSheetShown(true)}>
            Its drawings and phones …
          </button>
        )}
        <span className="grow" />
        {line.may_change && (
          <span className="quiet">
            Press a number or a mouth to expose it on frame{' '}
            <b className="number now">{frame + FIRST_FRAME}</b>
          </span>
        )}
      </header>
      <ul className="mouths">
        {sheet.mouths.map((mouth) => (
          <li key={mouth.key}>
            <button
              type="button"
              className={`mouth-card ${mouth.key === shown ? 'is-shown' : ''}`}
              aria-pressed={mouth.key === shown}
              aria-label={`${mouth.drawing} ${mouth.name}`}
              disabled={!line.may_change}
              onClick={() => expose(mouth.key)}
            >
              <span className="number">{mouth.drawing === 10 ? 0 : mouth.drawing}</span>
              <MouthImage picture={pictures.get(mouth.key)} />
              <b>{mouth.name}</b>
              <span className="phones number">{saidBy(mouth)}</span>
            </button>
          </li>
        ))}
      </ul>
      {library && newShown && (
        <NewChartSheet
          library={library}
          like={sheet.chart}
          onClose={() => setNewShown(false)}
          onMade={(made) => {
            setNewShown(false);
            if (made.part !== 'mouth') return;
            onEdit({ kind: 'use_chart', chart: made.id });
            change({ tab: 'face' });
          }}
        />
      )}
      {chart && sheetShown && (
        <ChartSheet
          chart={chart}
          mayChange={chart.may_change}
          onClose={() => setSheetShown(false)}
        />
      )}
    </section>
  );
}
