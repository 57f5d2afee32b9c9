/** What is imported at once, bytes. */
export const MOST_BYTES = 256 * 1024 * 1024;
