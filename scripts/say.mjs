/** One plain line for a person at a terminal, beside what a command itself prints. */
export const say = (text) => console.error(`dunrik: ${text}`);

/** Ends with a sentence that says what happened and what to do. */
export function stop(text) {
  console.error(`dunrik: ${text}`);
  process.exit(1);
}
