/** From where a chart may be seen, as one says it. */
export const CHART_SIDES = [
  ['front', 'the front'],
  ['three-quarter', 'three-quarter'],
  ['side', 'the side'],
  ['any', 'every side'],
] as const;

export type ChartSide = (typeof CHART_SIDES)[number][0];

export const sideNamed = (name: string): ChartSide =>
  CHART_SIDES.find(([value]) => value === name)?.[0] ?? 'front';
