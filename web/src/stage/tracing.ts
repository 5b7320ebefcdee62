/** Add a line through points to a path. */
export function tracePoints(
  path: CanvasPath,
  points: readonly { readonly x: number; readonly y: number }[],
): void {
  for (const [place, { x, y }] of points.entries()) {
    if (place) path.lineTo(x, y);
    else path.moveTo(x, y);
  }
}
