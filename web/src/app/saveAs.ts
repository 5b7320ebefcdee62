/** A value as a file of JSON to keep. */
export function saveAs(name: string, value: unknown): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(
    new Blob([JSON.stringify(value, null, 1)], { type: 'application/json' }),
  );
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
