import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { type Chart, type ChartEdit, changeChart, undoChart } from '../../api/lines';

/** Changing a mouth chart, and taking the last change back; lines that go by it are read again. */
export function useChartChange(chart: Chart | null) {
  const queries = useQueryClient();
  const [says, setSays] = useState('');
  const settle = async () => {
    await queries.invalidateQueries({ queryKey: ['chart', chart?.id] });
    await queries.invalidateQueries({ queryKey: ['line'] });
  };
  const change = useMutation({
    mutationFn: async (edit: ChartEdit) => (chart ? changeChart(chart, edit) : []),
    onSuccess: (notes) => setSays(notes.join(' ')),
    onSettled: settle,
  });
  const undo = useMutation({
    mutationFn: async () => chart && undoChart(chart),
    onSettled: settle,
  });
  return { change, undo, says, settle };
}
