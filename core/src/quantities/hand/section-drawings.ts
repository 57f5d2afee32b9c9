import { METRES_IN_FILE, type FileUnit } from '#core/measure';
import type { GivenSection } from './given-sections.ts';
import { namedColumns, numberIn } from './hand-table.ts';
import { readChainage } from './section-table.ts';

/** A section as it is drawn: ground and design over offsets from the line, m; offsets rise. */
export interface SectionDrawing {
  chainage: number;
  offset: number[];
  ground: number[];
  design: number[];
  /** Of its first row in the table. */
  row: number;
}

const HEADS = { chainage: /chain|station|^ch\b|^sta\b/i, offset: /off|dist/i, ground: /ground|exist/i, design: /design|propos|formation/i }; // prettier-ignore
const COLUMNS = ['chainage', 'offset', 'ground', 'design'] as const;

export type SectionDrawings = { ok: true; drawings: SectionDrawing[]; unit: FileUnit } | { ok: false; reason: string };

/**
 * Section drawings as a table: chainage, offset (left below 0), elevation of the ground and of the design a row, in that order
 * unless headings say another; the rows of one section in any order. A row that cannot be read is a reason to read none.
 */
export function readSectionDrawings(text: string, unit: FileUnit | null): SectionDrawings {
  const table = namedColumns(text, COLUMNS, HEADS, unit);
  if ('reason' in table) return { ok: false, ...table };
  const { rows, at, unit: inUnit } = table;
  const metre = METRES_IN_FILE[inUnit];
  const places = new Map<number, { row: number; offset: number; ground: number; design: number }[]>();
  for (const { fields, row } of rows) {
    const values = COLUMNS.map((c) => (c === 'chainage' ? readChainage : numberIn)(fields[at[c]] ?? ''));
    const wrong = values.findIndex(Number.isNaN);
    if (wrong >= 0) return { ok: false, reason: `Row ${row}: the ${COLUMNS[wrong]} “${(fields[at[COLUMNS[wrong]]] ?? '').slice(0, 30)}” is no number. Nothing is computed: a place that is missing is a wrong area.` }; // prettier-ignore
    const [chainage, offset, ground, design] = values.map((v) => v * metre);
    const there = places.get(chainage) ?? [];
    const twice = there.find((p) => p.offset === offset);
    if (twice) return { ok: false, reason: `Rows ${twice.row} and ${row} give one offset of one section twice.` };
    places.set(chainage, [...there, { row, offset, ground, design }]);
  }
  const drawings: SectionDrawing[] = [];
  for (const [chainage, there] of places) {
    if (there.length < 2) return { ok: false, reason: `Row ${there[0].row}: the section has one place alone; an area needs two.` }; // prettier-ignore
    const sorted = [...there].sort((a, b) => a.offset - b.offset);
    drawings.push({
      chainage,
      offset: sorted.map((p) => p.offset),
      ground: sorted.map((p) => p.ground),
      design: sorted.map((p) => p.design),
      row: there[0].row,
    });
  }
  return { ok: true, drawings, unit: inUnit };
}

/** Areas between ground and design, straight from place to place, split where they cross: m². */
export function areasOf({ chainage, offset, ground, design, row }: SectionDrawing): GivenSection {
  let [cut, fill] = [0, 0];
  const add = (width: number, d1: number, d2: number): void => {
    const area = (width * (d1 + d2)) / 2;
    if (area > 0) fill += area;
    else cut -= area;
  };
  for (let i = 1; i < offset.length; i++) {
    const width = offset[i] - offset[i - 1];
    const [d1, d2] = [design[i - 1] - ground[i - 1], design[i] - ground[i]];
    if ((d1 >= 0 && d2 >= 0) || (d1 <= 0 && d2 <= 0)) add(width, d1, d2);
    else {
      const share = d1 / (d1 - d2);
      add(width * share, d1, 0);
      add(width * (1 - share), 0, d2);
    }
  }
  return { chainage, cut, fill, row };
}
