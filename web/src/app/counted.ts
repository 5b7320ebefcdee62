/** “1 lane”, “3 lanes”. */
export const counted = (count: number, word: string): string =>
  `${count} ${count === 1 ? word : `${word}s`}`;
