import { CORNER, elevationAt, PAD_LEVEL } from './site.ts';
import { pad } from './survey.ts';
import { seeded } from './random.ts';
import type { DemoFile } from './files.ts';

// What comes across the table: the ground of the boat park as the other party shot it, and a table of sections. Neither is in
// the project yet.

/** m between their shots, by which theirs stands too high, and to which their survey reaches beyond the pad. */
const STEP = 4;
const HIGHER = 0.03;
const BEYOND = 3;

/** The other party's shots of the ground under the boat park pad: coarser than ours, three centimetres high, no breaklines. */
export function otherParty(): DemoFile {
  const random = seeded(77);
  const corners = pad().map((p) => ({ u: p.east - CORNER.east, v: p.north - CORNER.north }));
  const [us, vs] = [corners.map((c) => c.u), corners.map((c) => c.v)];
  const rows: string[] = [];
  for (let u = Math.min(...us) - BEYOND; u <= Math.max(...us) + BEYOND; u += STEP)
    for (let v = Math.min(...vs) - BEYOND; v <= Math.max(...vs) + BEYOND; v += STEP) {
      const spot = { u: u + random.normal(0.2), v: v + random.normal(0.2) };
      const z = elevationAt(spot) + HIGHER + random.normal(0.01);
      rows.push([`B${rows.length + 1}`, (CORNER.east + spot.u).toFixed(3), (CORNER.north + spot.v).toFixed(3), z.toFixed(3)].join(',')); // prettier-ignore
    }
  return { name: 'boat-park-other-party.csv', text: lines(['Number,East [m],North [m],Elevation [m]', ...rows]) };
}

/** Areas of sections 5 m apart along the pad's west side, as somebody worked them out from their drawings. */
export function sectionTable(): DemoFile {
  const rows = Array.from({ length: 5 }, (_, i) => {
    const middle = elevationAt({ u: 22 + 5 * i, v: 58 }) - PAD_LEVEL;
    return [`0+${String(5 * i).padStart(3, '0')}`, Math.max(0, 18 * middle + 4).toFixed(2), Math.max(0, 4 - 18 * middle).toFixed(2)].join(','); // prettier-ignore
  });
  return { name: 'boat-park-sections.csv', text: lines(['Chainage [m],Cut [m2],Fill [m2]', ...rows]) };
}

const lines = (rows: string[]): string => rows.join('\r\n') + '\r\n';
