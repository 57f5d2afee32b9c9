/** Height difference design − ground at a place, m; null where either is not known. */
export type DifferenceAt = (x: number, y: number) => number | null;

export interface HandVolume {
  cut: number;
  fill: number;
}

export type Extent = [minX: number, minY: number, maxX: number, maxY: number];

/**
 * Grid cells, common practice: the mean of a cell's four corner differences times its area. Cells with a
 * corner off the surfaces are left out. `cell` in m.
 */
export function gridVolume(
  at: DifferenceAt,
  [minX, minY, maxX, maxY]: Extent,
  cell: number,
): HandVolume & { cells: number } {
  const columns = Math.floor((maxX - minX) / cell + 1e-9);
  const rows = Math.floor((maxY - minY) / cell + 1e-9);
  let cut = 0;
  let fill = 0;
  let cells = 0;
  for (let i = 0; i < columns; i++)
    for (let j = 0; j < rows; j++) {
      const x = minX + i * cell;
      const y = minY + j * cell;
      const corners = [at(x, y), at(x + cell, y), at(x + cell, y + cell), at(x, y + cell)];
      if (corners.some((c) => c === null)) continue;
      const mean = (corners as number[]).reduce((a, b) => a + b, 0) / 4;
      if (mean > 0) fill += mean * cell * cell;
      else cut -= mean * cell * cell;
      cells++;
    }
  return { cut, fill, cells };
}

/**
 * Average end area, common practice: V = L (A1 + A2) / 2 between sections that run north, `spacing` m
 * apart. Differences along a section are taken every `step` m and joined by straights.
 */
export function sectionVolume(
  at: DifferenceAt,
  [minX, minY, maxX, maxY]: Extent,
  spacing: number,
  step: number,
): HandVolume & { sections: number } {
  const areas: HandVolume[] = [];
  const count = Math.floor((maxX - minX) / spacing + 1e-9);
  for (let i = 0; i <= count; i++) areas.push(sectionArea(at, Math.min(maxX, minX + i * spacing), minY, maxY, step));
  let cut = 0;
  let fill = 0;
  for (let i = 1; i < areas.length; i++) {
    cut += (spacing * (areas[i - 1].cut + areas[i].cut)) / 2;
    fill += (spacing * (areas[i - 1].fill + areas[i].fill)) / 2;
  }
  return { cut, fill, sections: areas.length };
}

function sectionArea(at: DifferenceAt, x: number, minY: number, maxY: number, step: number): HandVolume {
  const area = { cut: 0, fill: 0 };
  const parts = Math.max(1, Math.round((maxY - minY) / step));
  const width = (maxY - minY) / parts;
  let before = at(x, minY);
  for (let j = 1; j <= parts; j++) {
    const here = at(x, minY + j * width);
    if (before !== null && here !== null) {
      if (before >= 0 === here >= 0) {
        const a = ((before + here) * width) / 2;
        if (a > 0) area.fill += a;
        else area.cut -= a;
      } else {
        // The straight passes through zero: a triangle on either side.
        const share = before / (before - here);
        const [first, second] = [(before * share * width) / 2, (here * (1 - share) * width) / 2];
        area.fill += Math.max(first, second);
        area.cut -= Math.min(first, second);
      }
    }
    before = here;
  }
  return area;
}
