import { CompensatedSum } from '#core/kernel';
import { fanArea } from './difference/gathered.ts';

export interface Volume {
  /** Ground to be taken away: where the compared level or surface lies below the ground, m³. */
  cut: number;
  /** Ground to be brought: where it lies above, m³. */
  fill: number;
  /** Areas in plan, m². */
  cutArea: number;
  fillArea: number;
  /** Area where both are known, m². */
  area: number;
}

/** Adds up cut and fill. */
export class Tally {
  readonly cut = new CompensatedSum();
  readonly fill = new CompensatedSum();
  readonly cutArea = new CompensatedSum();
  readonly fillArea = new CompensatedSum();
  /** Along the ground. */
  readonly cutSlope = new CompensatedSum();
  readonly fillSlope = new CompensatedSum();

  /**
   * Adds a convex piece: x, y and design − ground (m) of its corners, counter-clockwise; `steep` as below. Most have all corners on
   * one side and are added at once.
   */
  addPiece(piece: Float64Array, corners: number, steep = 1): void {
    let lowest = piece[2];
    let highest = piece[2];
    for (let i = 5; i < 3 * corners; i += 3) {
      const d = piece[i];
      if (d < lowest) lowest = d;
      if (d > highest) highest = d;
    }
    const isOneSided = lowest >= 0 || highest <= 0;
    let whole = 0;
    let plan = 0;
    for (let i = 3; i + 3 < 3 * corners; i += 3) {
      const area = fanArea(piece, i);
      if (!(area > 0)) continue;
      if (isOneSided) {
        whole += area * (piece[2] + piece[i + 2] + piece[i + 5]);
        plan += area;
      } else this.add(area, piece[2], piece[i + 2], piece[i + 5], steep);
    }
    if (lowest >= 0) {
      this.fill.add(whole / 3);
      this.fillArea.add(plan);
      this.fillSlope.add(plan * steep);
    } else if (highest <= 0) {
      this.cut.add(-whole / 3);
      this.cutArea.add(plan);
      this.cutSlope.add(plan * steep);
    }
  }

  /** Adds a triangle in plan with area (m²) and design − ground at its corners (m); `steep`: m² along the ground to one in plan. */
  add(area: number, d0: number, d1: number, d2: number, steep = 1): void {
    const whole = (area * (d0 + d1 + d2)) / 3;
    if (d0 >= 0 && d1 >= 0 && d2 >= 0) {
      this.fill.add(whole);
      this.fillArea.add(area);
      this.fillSlope.add(area * steep);
      return;
    }
    if (d0 <= 0 && d1 <= 0 && d2 <= 0) {
      this.cut.add(-whole);
      this.cutArea.add(area);
      this.cutSlope.add(area * steep);
      return;
    }
    // One corner stands alone on its side of zero: a tetrahedron over the part of the triangle next to it.
    const alone = d0 > 0 !== d1 > 0 ? (d0 > 0 !== d2 > 0 ? 0 : 1) : 2;
    const [a, b, c] = alone === 0 ? [d0, d1, d2] : alone === 1 ? [d1, d2, d0] : [d2, d0, d1];
    const share = (a / (a - b)) * (a / (a - c));
    const part = (area * share * a) / 3;
    const [near, far] = [area * share, area * (1 - share)];
    if (a > 0) {
      this.fill.add(part);
      this.fillArea.add(near);
      this.fillSlope.add(near * steep);
      this.cut.add(part - whole);
      this.cutArea.add(far);
      this.cutSlope.add(far * steep);
    } else {
      this.cut.add(-part);
      this.cutArea.add(near);
      this.cutSlope.add(near * steep);
      this.fill.add(whole - part);
      this.fillArea.add(far);
      this.fillSlope.add(far * steep);
    }
  }

  result(): Volume {
    const cutArea = this.cutArea.value();
    const fillArea = this.fillArea.value();
    return { cut: this.cut.value(), fill: this.fill.value(), cutArea, fillArea, area: cutArea + fillArea };
  }
}
