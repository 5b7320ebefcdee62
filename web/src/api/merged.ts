/** Rows in their order: those that an answer brings, and the known ones that it leaves out as unchanged. */
export function merged<Row>(
  order: readonly string[],
  idOf: (row: Row) => string,
  brought: readonly Row[],
  known: readonly Row[] = [],
): Row[] {
  const rows = new Map([...known, ...brought].map((row) => [idOf(row), row]));
  return order.flatMap((id) => rows.get(id) ?? []);
}
