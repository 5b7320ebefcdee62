import { useMutation, useQueryClient } from '@tanstack/react-query';
import { type FormEvent, useId, useState } from 'react';
import { Modal } from 'react-bootstrap';
import { type Schemas, sentence } from '../../api/client';
import { newChart } from '../../api/lines';
import { FieldLine } from '../../app/controls';
import { CHART_SIDES, type ChartSide, sideNamed } from './chartSides';
import { libraryKey } from './useLibrary';

interface SheetProps {
  readonly library: Schemas['LibraryView'];
  /** The chart whose drawings it begins with, where that was said. */
  readonly like: string;
  readonly onClose: () => void;
  readonly onMade: (chart: Schemas['ChartCard']) => void;
}

const OURS = { mouth: 'Our ten mouths', eyes: 'Our three eyes' } as const;
type Part = keyof typeof OURS;
/** A new chart: which drawings it begins with, whose face it is for, and from where it is seen. */
export function NewChartSheet({ library, like, onClose, onMade }: SheetProps) {
  const id = useId();
  const queries = useQueryClient();
  const charts = library.charts.filter((one) => !one.archived);
  const figures = library.figures.filter((one) => !one.archived);
  const begun = charts.find((one) => one.id === like);
  const [drawings, setDrawings] = useState<string>(begun?.id ?? 'mouth');
  const [figure, setFigure] = useState(begun?.figure ?? figures[0]?.id ?? '');
  const [view, setView] = useState<ChartSide>('front');
  const [name, setName] = useState('');
  const face = figures.find((one) => one.id === figure)?.name;
  const part: Part = drawings === 'eyes' ? 'eyes' : 'mouth';
  const side = view === 'any' ? 'mouths' : view;
  const proposed = [face, part === 'eyes' ? 'eyes' : side].filter(Boolean).join(', ');
  const make = useMutation({
    mutationFn: () =>
      newChart(library.id, {
        name: name.trim() || proposed,
        like: charts.some((one) => one.id === drawings) ? drawings : null,
        figure: figure || null,
        part,
        view,
      }),
    onSuccess: async (chart) => {
      await queries.invalidateQueries({ queryKey: libraryKey(library.id) });
      onMade(chart);
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <Modal show onHide={onClose} aria-labelledby={`${id}-title`}>
      <form onSubmit={submit}>
        <Modal.Header closeButton>
          <Modal.Title id={`${id}-title`}>New chart</Modal.Title>
        </Modal.Header>
        <Modal.Body className="d-flex flex-column gap-3">
          <FieldLine name="Drawings">
            <select
              className="form-select w-auto"
              aria-label="The drawings that it begins with"
              value={drawings}
              onChange={({ target }) => setDrawings(target.value)}
            >
              {Object.entries(OURS).map(([value, text]) => (
                <option key={value} value={value}>
                  {text}
                </option>
              ))}
              {charts.map((one) => (
                <option key={one.id} value={one.id}>
                  Those of {one.name}
                </option>
              ))}
            </select>
          </FieldLine>
          <FieldLine name="On the face of">
            <select
              className="form-select w-auto"
              aria-label="Whose face it is for"
              value={figure}
              onChange={({ target }) => setFigure(target.value)}
            >
              <option value="">nobody</option>
              {figures.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          </FieldLine>
          <FieldLine name="Seen from">
            <select
              className="form-select w-auto"
              aria-label="From where it is seen"
              value={view}
              onChange={({ target }) => setView(sideNamed(target.value))}
            >
              {CHART_SIDES.map(([value, text]) => (
                <option key={value} value={value}>
                  {text}
                </option>
              ))}
            </select>
          </FieldLine>
          <FieldLine name="Name">
            <input
              className="form-control w-auto"
              aria-label="Name of the chart"
              value={name}
              placeholder={proposed}
              maxLength={120}
              onChange={({ target }) => setName(target.value)}
            />
          </FieldLine>
          {make.isError && (
            <p className="refusal" role="alert">
              {sentence(make.error)}
            </p>
          )}
        </Modal.Body>
        <Modal.Footer>
          <button type="button" className="btn btn-paper" onClick={onClose}>
            Cancel
          </button>
          <button type="submit" className="btn btn-lamp" disabled={make.isPending}>
            Make the chart
          </button>
        </Modal.Footer>
      </form>
    </Modal>
  );
}
