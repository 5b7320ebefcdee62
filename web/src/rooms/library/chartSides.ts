/** From where a chart may be seen, as one says it. */
export const CHART_SIDES = [
  { id: 'front', name: 'the front' },
  { id: 'three-quarter', name: 'three-quarter' },
  { id: 'side', name: 'the side' },
  { id: 'any', name: 'every side' },
] as const;

export type ChartSide = (typeof CHART_SIDES)[number]['id'];
