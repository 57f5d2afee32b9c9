/** Height difference design − ground at a place, m; null where either is not known. */
export type DifferenceAt = (x: number, y: number) => number | null;

export interface HandVolume {
  cut: number;
  fill: number;
}

export type Extent = [minX: number, minY: number, maxX: number, maxY: number];

/** As much of a part is none: what is left over by rounding is no strip of its own. */
const NO_PART = 1e-9;

/** Places from one side to the other, so far apart; the last part is what is left over, and both sides are met exactly. */
function cutInParts(from: number, to: number, part: number): number[] {
  const places: number[] = [];
  const count = Math.ceil((to - from) / part - NO_PART);
  for (let i = 0; i < count; i++) places.push(from + i * part);
  return [...places, to];
}

/**
 * Grid cells, common practice: the mean of a cell's four corner differences times its area. Cells with a
 * corner off the surfaces are left out; those at the east and north sides are as narrow as what is left there. `cell` in m.
 */
export function gridVolume(
  at: DifferenceAt,
  [minX, minY, maxX, maxY]: Extent,
  cell: number,
): HandVolume & { cells: number } {
  const across = cutInParts(minX, maxX, cell);
  const up = cutInParts(minY, maxY, cell);
  let cut = 0;
  let fill = 0;
  let cells = 0;
  for (let i = 0; i + 1 < across.length; i++)
    for (let j = 0; j + 1 < up.length; j++) {
      const [x, y, east, north] = [across[i], up[j], across[i + 1], up[j + 1]];
      const corners = [at(x, y), at(east, y), at(east, north), at(x, north)];
      if (corners.some((c) => c === null)) continue;
      const volume = ((corners as number[]).reduce((a, b) => a + b, 0) / 4) * (east - x) * (north - y);
      if (volume > 0) fill += volume;
      else cut -= volume;
      cells++;
    }
  return { cut, fill, cells };
}

/**
 * Average end area, common practice: V = L (A1 + A2) / 2 between sections that run north, `spacing` m
 * apart, the last at the east side. Differences along a section are taken every `step` m and joined by straights.
 */
export function sectionVolume(
  at: DifferenceAt,
  [minX, minY, maxX, maxY]: Extent,
  spacing: number,
  step: number,
): HandVolume & { sections: number } {
  const places = cutInParts(minX, maxX, spacing);
  const along = cutInParts(minY, maxY, step);
  const areas = places.map((x) => sectionArea(at, x, along));
  let cut = 0;
  let fill = 0;
  for (let i = 1; i < areas.length; i++) {
    const length = places[i] - places[i - 1];
    cut += (length * (areas[i - 1].cut + areas[i].cut)) / 2;
    fill += (length * (areas[i - 1].fill + areas[i].fill)) / 2;
  }
  return { cut, fill, sections: areas.length };
}

function sectionArea(at: DifferenceAt, x: number, along: readonly number[]): HandVolume {
  const area = { cut: 0, fill: 0 };
  let before = at(x, along[0]);
  for (let j = 1; j < along.length; j++) {
    const width = along[j] - along[j - 1];
    const here = at(x, along[j]);
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
