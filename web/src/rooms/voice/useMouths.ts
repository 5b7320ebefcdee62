import { type UseQueryResult, useQueries, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import {
  type Chart,
  chartQuery,
  type LineSheet,
  type Mouth,
  ourMouthsQuery,
} from '../../api/lines';
import { type MouthLookName, mouthUrl } from '../../stage/MouthPicture';
import { useLibrary } from '../library/useLibrary';

/** One mouth as pictures: in ink, and in the pencils of before and after. */
export type MouthPicture = Readonly<Record<MouthLookName, string>>;

export type MouthPictures = ReadonlyMap<string, MouthPicture>;

const charts = (results: UseQueryResult<Chart>[]) => results.flatMap(({ data }) => data ?? []);

/** The mouths that a line is exposed by, drawn; its chart, and that chart’s other sides. */
export function useMouths(production: string, sheet: LineSheet) {
  const own = useQuery({ ...chartQuery(sheet.chart), enabled: sheet.chart !== '' });
  const ours = useQuery({ ...ourMouthsQuery(production), enabled: sheet.chart === '' });
  const chart = (sheet.chart && own.data) || null;
  const library = useLibrary(production);
  const others = (library.data?.charts ?? []).filter(
    (card) =>
      chart &&
      !card.archived &&
      card.id !== chart.id &&
      card.figure === chart.chart.figure &&
      card.part === chart.chart.part &&
      card.view !== chart.chart.view,
  );
  const eyesCard = library.data?.charts.find(
    (card) => !card.archived && card.part === 'eyes' && card.figure === chart?.chart.figure,
  );
  const eyes = useQuery({ ...chartQuery(eyesCard?.id ?? ''), enabled: eyesCard !== undefined });
  const otherSides = useQueries({
    queries: others.map((card) => chartQuery(card.id)),
    combine: charts,
  });
  const drawn: readonly Mouth[] = chart?.chart.mouths ?? ours.data?.mouths ?? NONE;
  const pictures = useMemo(
    (): MouthPictures =>
      new Map(drawn.map((mouth) => [mouth.key, pictureOf(mouth, chart?.pictures)])),
    [drawn, chart],
  );
  const eyesChart = (eyesCard && eyes.data) || null;
  const eyePictures = useMemo(
    () =>
      new Map(eyesChart?.chart.mouths.map((one) => [one.key, pictureOf(one, eyesChart.pictures)])),
    [eyesChart],
  );
  return { chart, otherSides, pictures, eyesChart, eyePictures };
}

const NONE: readonly Mouth[] = [];

const pictureOf = (mouth: Mouth, drawn: Chart['pictures'] | undefined): MouthPicture => ({
  ink: mouthUrl(mouth, drawn),
  before: mouthUrl(mouth, drawn, 'before'),
  after: mouthUrl(mouth, drawn, 'after'),
});
