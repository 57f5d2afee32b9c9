/** What says in a cell that there is nothing: written by choice, read as an empty cell. */
export const NONE_SIGNS = ['', '-', 'none', 'NaN'] as const;
