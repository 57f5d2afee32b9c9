import type { ReactNode } from 'react';

/** A column of a table: its values, and what it asks for of the width. */
export interface Column {
  id: string;
  head: ReactNode;
  /** What it is called among the columns to choose from, where its heading does not say. */
  name?: string;
  /** Width in px; without it the column is as wide as its widest text. */
  width?: number;
  /** Narrowest and widest that a measured column gets, px. */
  min?: number;
  max?: number;
  /** Share of what is left over; a column without one keeps its width. */
  grow?: number;
  numeric?: boolean;
  /** Words rather than figures: set in the text face. */
  words?: boolean;
  /** Value as text; also what editing begins with. */
  text: (row: number) => string;
  cell?: (row: number) => ReactNode;
  /** Takes a typed value; gives a sentence when it cannot be read. */
  edit?: (row: number, typed: string) => string | null;
  sortable?: boolean;
  /** Stays in sight while the rest scrolls sideways, until a person says otherwise. */
  pinned?: boolean;
  /** Shown only to those who choose it. */
  hidden?: boolean;
  /** What it is sorted and compared by, in the unit shown; its text where there is none. */
  value?: (row: number) => number;
}

/** As a person reads it among the columns to choose from. */
export const nameOf = (c: Column): string => c.name ?? (typeof c.head === 'string' && c.head ? c.head : c.id);

export type Sort = { id: string; down: boolean } | null;
