import { checkContours } from '#core/terrain';
import { contouredSite, isPlanted, SLIPS } from '../core/test/terrain/contoured-site.ts';

/** Invented contours with a draughtsman's slip planted in each, and as many without: how often it is named, and what else is. */
export function contourFaultsFigure(sites = 300): void {
  console.log(`Slips in drawn contours, on ${sites} invented sites of each kind and ${sites} without`);
  for (const slip of [...SLIPS, null]) {
    let [right, missed, none] = [0, 0, 0];
    const others = new Map<string, number>();
    for (let seed = 1; seed <= sites; seed++) {
      const site = contouredSite(seed + (slip ? 1000 * SLIPS.indexOf(slip) : 50_000), slip);
      if (slip && site.planted < 0) {
        none++;
        continue;
      }
      const { faults } = checkContours(site.contours);
      const own = slip ? faults.filter((f) => isPlanted(f, site, slip)) : [];
      if (own.length) right++;
      else missed++;
      for (const kind of new Set(faults.filter((f) => !own.includes(f)).map((f) => f.kind)))
        others.set(kind, (others.get(kind) ?? 0) + 1);
    }
    const besides = [...others].map(([k, n]) => `${k} on ${n}`).join(', ') || 'nothing';
    console.log(slip ? `  ${slip.padEnd(14)} named ${right}, missed ${missed}, none to plant ${none}; besides: ${besides}` : `  ${'none'.padEnd(14)} named: ${besides}`); // prettier-ignore
  }
}
