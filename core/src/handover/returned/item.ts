import type { Change, ProjectDocument } from '#core/project';
import type { Line } from '#core/linework';
import type { PointTable } from '#core/stages';

/** What a person may make of something that differs. */
export interface ReturnedChoice {
  label: string;
  change: Change;
}

/** Something of ours, or beside it, that came back otherwise than it was sent. */
export interface ReturnedItem {
  of: 'point' | 'line' | 'label' | 'other';
  /** A point's number, a line's name, a label's text, or the kind and text of what is none. */
  name: string;
  what: string;
  layer: string;
  /** Where it is now, or was where it is gone, m. */
  x: number;
  y: number;
  /** Both states, x y x y …; nothing where it is in one of them alone. */
  was: number[];
  is: number[];
  /** The first is what its maker meant by all that can be told. */
  choices: ReturnedChoice[];
  /** Why nothing can be made of it, or what to know before. */
  note: string | null;
  /** It is taken unless somebody says otherwise. */
  sure: boolean;
}

/** What a line is called that has no name yet. */
export const NEW_LINE = 'new line';

export interface ReturnedTo {
  doc: ProjectDocument;
  points: PointTable;
  lines: readonly Line[];
  /** m; what is nearer is in the same place. */
  tolerance: number;
}

export const flat = (at: readonly number[]): number[] => at.filter((_, i) => i % 3 !== 2);
