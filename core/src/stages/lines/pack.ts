import { packColumns, stringColumn, stringsOf, unpackColumns, type Columns, type StringColumn } from '#core/kernel';
import type { Line, Linework } from '#core/linework';

const text = (c: Columns, name: string): string[] => stringsOf(c[name] as StringColumn);

/** Linework as one block of typed columns. */
export function packLines(work: Linework): Uint8Array {
  const { lines, pointCodes } = work;
  const codeNames = [...new Set(pointCodes.map((p) => p.code))];
  const codeIndex = new Map(codeNames.map((name, i) => [name, i]));
  const offsets = new Uint32Array(lines.length + 1);
  const madeOffsets = new Uint32Array(lines.length + 1);
  lines.forEach((l, i) => {
    offsets[i + 1] = offsets[i] + l.x.length;
    madeOffsets[i + 1] = madeOffsets[i] + l.made.length;
  });
  const rows = new Int32Array(offsets[lines.length]);
  const [x, y, bulges] = [0, 1, 2].map(() => new Float64Array(rows.length));
  const [why, sides] = [new Uint8Array(rows.length), new Uint8Array(rows.length)];
  const made = new Float64Array(madeOffsets[lines.length] * 5);
  lines.forEach((l, i) => {
    rows.set(l.rows, offsets[i]);
    x.set(l.x, offsets[i]);
    y.set(l.y, offsets[i]);
    bulges.set(l.bulges, offsets[i]);
    why.set(l.why, offsets[i]);
    sides.set(l.sides, offsets[i]);
    l.made.forEach((m, k) => made.set([m.at, m.from, m.to, m.share, m.rise], 5 * (madeOffsets[i] + k)));
  });
  return packColumns({
    offsets,
    madeOffsets,
    rows,
    x,
    y,
    bulges,
    why,
    sides,
    made,
    closed: Uint8Array.from(lines, (l) => (l.closed ? 1 : 0)),
    key: stringColumn(lines.map((l) => l.key)),
    code: stringColumn(lines.map((l) => l.code)),
    lineNumber: stringColumn(lines.map((l) => l.lineNumber)),
    pointRow: Uint32Array.from(pointCodes, (p) => p.row),
    pointKnown: Uint8Array.from(pointCodes, (p) => (p.known ? 1 : 0)),
    pointCode: Uint32Array.from(pointCodes, (p) => codeIndex.get(p.code)!),
    codeNames: stringColumn(codeNames),
    file: Int32Array.from(lines, (l) => l.file ?? -1),
    slips: stringColumn([JSON.stringify(work.slips)]),
  });
}

export function unpackLines(block: Uint8Array): Linework {
  const { lines, pointRow, pointCode, pointKnown, codeNames, slips } = unpackLineColumns(block);
  return {
    lines,
    pointCodes: Array.from(pointCode, (code, i) => ({
      row: pointRow[i],
      code: codeNames[code],
      known: pointKnown[i] === 1,
    })),
    slips,
  };
}

/** Linework with its point codes left as columns: what a page holds of hundreds of thousands of coded points. */
export interface LineColumns {
  lines: Line[];
  pointRow: Uint32Array;
  /** Index into `codeNames`. */
  pointCode: Uint32Array;
  pointKnown: Uint8Array;
  codeNames: string[];
  slips: Linework['slips'];
}

export function unpackLineColumns(block: Uint8Array): LineColumns {
  const c = unpackColumns(block);
  const offsets = c.offsets as Uint32Array;
  const madeOffsets = c.madeOffsets as Uint32Array;
  const made = c.made as Float64Array;
  const [closed, file] = [c.closed as Uint8Array, c.file as Int32Array];
  const [code, lineNumber] = [text(c, 'code'), text(c, 'lineNumber')];
  // A plain loop: going through iterators takes ten times as long, and a page waits for twenty thousand lines.
  const part = (name: string, i: number): number[] => {
    const column = c[name] as Float64Array;
    const out: number[] = [];
    for (let k = offsets[i]; k < offsets[i + 1]; k++) out.push(column[k]);
    return out;
  };
  return {
    lines: text(c, 'key').map((key, i) => ({
      key,
      code: code[i],
      lineNumber: lineNumber[i],
      closed: closed[i] === 1,
      rows: part('rows', i),
      x: part('x', i),
      y: part('y', i),
      bulges: part('bulges', i),
      why: part('why', i),
      sides: part('sides', i),
      made: Array.from({ length: madeOffsets[i + 1] - madeOffsets[i] }, (_, k) => {
        const at = 5 * (madeOffsets[i] + k);
        return { at: made[at], from: made[at + 1], to: made[at + 2], share: made[at + 3], rise: made[at + 4] };
      }),
      ...(file[i] >= 0 ? { file: file[i] } : {}),
    })),
    pointRow: c.pointRow as Uint32Array,
    pointCode: c.pointCode as Uint32Array,
    pointKnown: c.pointKnown as Uint8Array,
    codeNames: text(c, 'codeNames'),
    slips: JSON.parse(text(c, 'slips')[0]) as Linework['slips'],
  };
}
