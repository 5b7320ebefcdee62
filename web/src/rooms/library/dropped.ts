/** What was dropped: files, and those in folders. */

const READ_AT_ONCE_MOST = 20_000;

/** All files of a drop, those that lie in folders too. */
export async function filesIn(dropped: DataTransfer): Promise<readonly File[]> {
  // Asked for at once: a drop is forgotten when its event is over.
  const entries = [...dropped.items].flatMap((item) => item.webkitGetAsEntry?.() ?? []);
  const files = [...dropped.files];
  if (!entries.some((entry) => entry.isDirectory)) return files;
  const found: File[] = [];
  for (const entry of entries) await gather(entry, found);
  return found;
}

async function gather(entry: FileSystemEntry, found: File[]): Promise<void> {
  if (found.length >= READ_AT_ONCE_MOST) return;
  if (entry.isFile) {
    const file = await new Promise<File>((done, failed) =>
      (entry as FileSystemFileEntry).file(done, failed),
    );
    // What the system puts beside files is not meant.
    if (!file.name.startsWith('.')) found.push(file);
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, failed) =>
      reader.readEntries(done, failed),
    );
    if (!some.length) return;
    for (const one of some) await gather(one, found);
  }
}
