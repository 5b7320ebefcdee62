import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { newChart } from '../../api/lines';
import { FieldLine } from '../../app/controls';
import { CHART_SIDES, type ChartSide } from './chartSides';
import { NewSheet, PickOne } from './NewSheet';
import { libraryKey } from './useLibrary';

interface SheetProps {
  readonly library: Schemas['LibraryView'];
  /** The chart whose drawings it begins with, where that was said. */
  readonly like: string;
  readonly onClose: () => void;
  readonly onMade: (chart: Schemas['ChartCard']) => void;
}

const OURS = [
  { id: 'mouth', name: 'Our ten mouths' },
  { id: 'eyes', name: 'Our three eyes' },
] as const;
const NOBODY = { id: '', name: 'nobody' };

/** A new chart: which drawings it begins with, whose face it is for, and from where it is seen. */
export function NewChartSheet({ library, like, onClose, onMade }: SheetProps) {
  const queries = useQueryClient();
  const charts = library.charts.filter((one) => !one.archived);
  const figures = library.figures.filter((one) => !one.archived);
  const begun = charts.find((one) => one.id === like);
  const [drawings, setDrawings] = useState<string>(begun?.id ?? 'mouth');
  const [figure, setFigure] = useState(begun?.figure ?? figures[0]?.id ?? '');
  const [view, setView] = useState<ChartSide>('front');
  const [name, setName] = useState('');
  const face = figures.find((one) => one.id === figure)?.name;
  const part = drawings === 'eyes' ? 'eyes' : 'mouth';
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
  return (
    <NewSheet
      title="New chart"
      makes="Make the chart"
      isReady={!make.isPending}
      problem={make.error}
      onMake={() => make.mutate()}
      onClose={onClose}
    >
      <PickOne
        name="Drawings"
        label="The drawings that it begins with"
        value={drawings}
        onPick={setDrawings}
        options={[...OURS, ...charts.map((one) => ({ id: one.id, name: `Those of ${one.name}` }))]}
      />
      <PickOne
        name="On the face of"
        label="Whose face it is for"
        value={figure}
        onPick={setFigure}
        options={[NOBODY, ...figures]}
      />
      <PickOne
        name="Seen from"
        label="From where it is seen"
        value={view}
        onPick={setView}
        options={CHART_SIDES}
      />
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
    </NewSheet>
  );
}
