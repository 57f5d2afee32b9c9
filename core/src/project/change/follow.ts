/** Every key that accepted queries leave or come to. */
export const followed = (to: Record<string, string | null>): string[] => [
  ...new Set([...Object.keys(to), ...Object.values(to).filter((key) => key !== null)]),
];
