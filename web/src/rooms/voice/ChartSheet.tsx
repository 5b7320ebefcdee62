import { useMutation } from '@tanstack/react-query';
import { type DragEvent, useId, useRef } from 'react';
import { Modal } from 'react-bootstrap';
import { sentence } from '../../api/client';
import { bringInPictures } from '../../api/clips';
import { type Chart, changeChart, type Mouth } from '../../api/lines';
import { IconButton } from '../../app/controls';
import { MouthPicture } from '../../stage/MouthPicture';
import { written } from './spoken';
import { useChartChange } from './useChartChange';

interface SheetProps {
  readonly chart: Chart;
  readonly mayChange: boolean;
  readonly onClose: () => void;
}

const DRAWN = '.png,.svg,.webp,.jpg,.jpeg,image/png,image/svg+xml,image/webp,image/jpeg';

/** A mouth chart: its drawings, the phones each stands for, and when it is shown. */
export function ChartSheet({ chart, mayChange, onClose }: SheetProps) {
  const id = useId();
  const { change, undo, says, settle } = useChartChange(chart);
  const draw = useMutation({
    mutationFn: async ({ mouth, file }: { mouth: Mouth; file: File }) => {
      const [kept] = await bringInPictures(chart.production, [file], () => {});
      const picture = { width: 1, shift: [0, 0], ...mouth.picture, file: kept.file };
      return changeChart(chart, { kind: 'set_mouth', mouth: { ...mouth, picture } as Mouth });
    },
    onSettled: settle,
  });
  const set = (mouth: Mouth) => change.mutate({ kind: 'set_mouth', mouth });
  const problem = change.error ?? draw.error ?? undo.error;
  return (
    <Modal show onHide={onClose} size="lg" scrollable aria-labelledby={id}>
      <Modal.Header closeButton>
        <Modal.Title id={id}>{chart.name}</Modal.Title>
      </Modal.Header>
      <Modal.Body className="chart-sheet">
        <p className="quiet">
          Drop a drawing on a mouth: PNG or WebP with nothing behind it, or SVG. A phone that is
          given to one mouth is taken from the others of its size.
        </p>
        <table>
          <thead>
            <tr>
              <th>Drawing</th>
              <th>Number</th>
              <th>Name</th>
              <th>Phones</th>
              <th>Shown when</th>
              <th>
                <span className="visually-hidden">Take out</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {chart.chart.mouths.map((mouth) => (
              <MouthRow
                key={mouth.key}
                chart={chart}
                mouth={mouth}
                mayChange={mayChange}
                onSet={set}
                onDraw={(file) => draw.mutate({ mouth, file })}
                onDrop={() => change.mutate({ kind: 'drop_mouth', key: mouth.key })}
              />
            ))}
          </tbody>
        </table>
        {says && <p role="status">{says}</p>}
        {problem ? (
          <p className="refusal" role="alert">
            {sentence(problem)}
          </p>
        ) : null}
      </Modal.Body>
      <Modal.Footer>
        {mayChange && (
          <button
            type="button"
            className="btn btn-paper"
            disabled={!chart.undo || undo.isPending}
            onClick={() => undo.mutate()}
          >
            {chart.undo ? `Undo: ${chart.undo}` : 'Nothing to undo'}
          </button>
        )}
        <button type="button" className="btn btn-lamp" onClick={onClose}>
          Close
        </button>
      </Modal.Footer>
    </Modal>
  );
}

interface RowProps {
  readonly chart: Chart;
  readonly mouth: Mouth;
  readonly mayChange: boolean;
  readonly onSet: (mouth: Mouth) => void;
  readonly onDraw: (file: File) => void;
  readonly onDrop: () => void;
}

const SIZES = [
  ['small', 'soft'],
  ['full', 'always, or as usual'],
  ['shouted', 'loud'],
] as const;

function MouthRow({ chart, mouth, mayChange, onSet, onDraw, onDrop }: RowProps) {
  const picker = useRef<HTMLInputElement>(null);
  const name = mouth.name;
  const phones = mouth.phones.map(written).join(' ');
  const take = (event: DragEvent) => {
    event.preventDefault();
    const [file] = event.dataTransfer.files;
    if (file && mayChange) onDraw(file);
  };
  return (
    <tr onDragOver={(event) => event.preventDefault()} onDrop={take} data-mouth={mouth.key}>
      <td>
        <input
          ref={picker}
          type="file"
          accept={DRAWN}
          hidden
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) onDraw(file);
            event.target.value = '';
          }}
        />
        <button
          type="button"
          className="mouth-drop"
          aria-label={`Another drawing for ${name}`}
          disabled={!mayChange}
          onClick={() => picker.current?.click()}
        >
          <MouthPicture mouth={mouth} pictures={chart.pictures} />
        </button>
      </td>
      <td className="number">{mouth.drawing}</td>
      <td>
        <input
          className="form-control"
          aria-label={`Name of ${name}`}
          key={name}
          defaultValue={name}
          maxLength={60}
          disabled={!mayChange}
          onBlur={({ target }) =>
            target.value.trim() &&
            target.value.trim() !== name &&
            onSet({ ...mouth, name: target.value.trim() })
          }
        />
      </td>
      <td>
        <input
          className="form-control number"
          aria-label={`Phones of ${name}`}
          key={phones}
          defaultValue={phones}
          disabled={!mayChange}
          onBlur={({ target }) => {
            const wanted = target.value.trim().toUpperCase();
            if (wanted !== phones.toUpperCase())
              onSet({ ...mouth, phones: wanted ? wanted.split(/[\s,]+/) : [] } as Mouth);
          }}
        />
      </td>
      <td>
        <select
          className="form-select"
          aria-label={`When ${name} is shown`}
          value={mouth.size}
          disabled={!mayChange}
          onChange={({ target }) => onSet({ ...mouth, size: target.value as Mouth['size'] })}
        >
          {SIZES.map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      </td>
      <td>
        <IconButton
          icon="x"
          label={`Take out ${name}`}
          disabled={!mayChange || chart.chart.mouths.length === 1}
          onClick={onDrop}
        />
      </td>
    </tr>
  );
}
