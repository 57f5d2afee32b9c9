import type { WrittenWhere } from './written-elevations.ts';
import type { FileUnit } from '#core/measure';
import type { CleanSettings } from './clean/clean.ts';
import type { GridFacts } from './grid/elevation-grid.ts';
import type { DrawingTable } from './drawing-part.ts';
import type { TakenRow } from './taken.ts';
import type { RefusedRow } from './text/read.ts';

/** What a file says of its own numbers, as far as it says anything. */
export interface FileClaims {
  unit: FileUnit | null;
  system: string | null;
  geoid: string | null;
}

export type TabularFile =
  | {
      ok: true;
      kind: 'text' | 'spreadsheet' | 'landxml' | 'dxf' | 'geojson' | 'grid';
      text: string;
      encoding: string;
      claims: FileClaims;
      lost: Lost;
      sheet?: Sheet;
      /** What the file holds that is no points, in words. */
      besides?: string | null;
      /** Whether it holds points of its own, whatever the rows are. */
      hasPoints?: boolean;
      /** How many lines it holds, and whether the rows are their vertices. */
      lines?: { count: number; taken: boolean };
      /** Where points and lines are rows together: how many are points, the first row that needs no number, and where an underlay begins, of how many things. */
      together?: { points: number; lightFrom: number; underlay?: { from: number; count: number } };
      /** Ready-made surfaces that it holds. */
      surfaces?: SurfaceInFile[];
      /** Where the rows are the vertices of one of them: its name, and its faces, three vertices each, counted from the first row under the heading. */
      surface?: { name: string; faces: Uint32Array };
      /** What a drawing holds, layer by layer and kind by kind. */
      drawing?: DrawingTable;
      /** Where the rows are nodes of a grid. */
      grid?: GridFacts;
    }
  /** `drawing`: what there is to tick of it. */
  | { ok: false; reason: string; drawing?: DrawingTable };

/** Which part of a file is read; absent: the first sheet, its points. */
export interface FilePart {
  sheet?: string;
  surface?: string;
  lines?: boolean;
  /** Of a drawing: entities of these kinds on these layers; absent: all that are points, lines or faces. */
  taken?: readonly TakenRow[];
  /** Of a drawing: its arcs stay arcs; absent: chords of 5 mm. */
  arcs?: boolean;
  /** Of a drawing: with what its blocks draw where they are put. */
  blocks?: boolean;
  /** Of a drawing: what reaches into this window alone, west, south, east, north in its own unit. */
  within?: [number, number, number, number];
  /** Of a drawing: what reaches into this fence alone, corners x, y, x, y … in its own unit and order. */
  fence?: number[];
  /** Of a drawing: its lines cleaned for a small screen; lengths in m. */
  clean?: CleanSettings;
  /** Of a drawing: contours without an elevation get the one that is written there. */
  written?: WrittenWhere;
  /** Of a grid: every so many-th node of every so many-th row. */
  step?: number;
  /** The unit that it is read in; absent: what it says itself. */
  unit?: FileUnit;
}

/** What somebody chose of a drawing or a grid; a file's other parts exclude it. */
export const drawingChoices = <T extends FilePart>({
  taken,
  arcs,
  blocks,
  within,
  fence,
  clean,
  written,
  step,
}: T): Pick<T, 'taken' | 'arcs' | 'blocks' | 'within' | 'fence' | 'clean' | 'written' | 'step'> => ({
  ...(taken ? { taken } : {}),
  ...(arcs ? { arcs } : {}),
  ...(blocks ? { blocks } : {}),
  ...(clean ? { clean } : {}),
  ...(written ? { written } : {}),
  ...(step ? { step } : {}),
  ...(within ? { within } : {}),
  ...(fence ? { fence } : {}),
});

export interface SurfaceInFile {
  name: string;
  vertices: number;
  triangles: number;
}

/** The sheet of a spreadsheet that was read, and all of them in the order of their tabs. */
export interface Sheet {
  name: string;
  all: string[];
}

/** What the format itself could not give as rows, by line of the file. */
export interface Lost {
  list: RefusedRow[];
  count: number;
}

export const NOTHING_LOST: Lost = { list: [], count: 0 };

/** What was read of a file's rows, with what the file itself could not give. */
export const withLost = <T extends { refused: RefusedRow[]; refusedCount: number }>(read: T, lost: Lost): T =>
  lost.count === 0 ? read : { ...read, refused: [...lost.list, ...read.refused], refusedCount: read.refusedCount + lost.count }; // prettier-ignore
