/** A followed point through a run. */

import type { RunSheet } from '../../api/drawings';

export type PointSpacing = RunSheet['spacing'][number];

/** The points that are followed on a run’s drawings, by their names. */
export const pointNames = (sheet: RunSheet): readonly string[] =>
  sheet.spacing.map(({ point }) => point);

export const spacingOf = (sheet: RunSheet, point: string): PointSpacing | null =>
  sheet.spacing.find((one) => one.point === point) ?? null;
