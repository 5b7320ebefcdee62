/** “1 lane”, “3 lanes”; “2 fixes” by its own word for many. */
export const counted = (count: number, word: string, many = `${word}s`): string =>
  `${count} ${count === 1 ? word : many}`;
