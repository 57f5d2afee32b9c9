/** Names of the parts that steps make of a scale: under the first, between each two, from the last on. */
export const rangeNames = (steps: readonly number[], text: (step: number) => string): string[] =>
  [...steps, NaN].map((step, i) =>
    i === 0
      ? `under ${text(step)}`
      : i === steps.length
        ? `${text(steps[i - 1])} and more`
        : `${text(steps[i - 1])} – ${text(step)}`,
  );
