/** A name for a stint that is about to be. */
export const newId = (): string => crypto.randomUUID().slice(0, 18);
