import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDxf, sectionTableOfDxf } from '#core/exchange';
import { crossSections, volumeOfSections, workByHand } from '#core/quantities';
import { sectionsDxf } from '#core/report';
import { groundFinder } from '#core/terrain';
import { square, surfaceOf } from '../quantities/bodies.ts';

// Ground over a square of 160 m, and a design above and below it; a line with a bend across which sections stand.
const ground = surfaceOf([...square(80, 0).map(([x, y]) => [x, y, 10 + x / 20 + y / 30]), [3, 5, 14], [-22, 8, 7]]); // prettier-ignore
const design = surfaceOf(square(80, 11));
const COURSE = [-40, -10, 0, 5, 45, 0];
const surfaces = [{ name: 'Ground', finder: groundFinder(ground) }, { name: 'Design', finder: groundFinder(design) }]; // prettier-ignore
const bytes = (dxf: string | Uint8Array): Uint8Array => (typeof dxf === 'string' ? new TextEncoder().encode(dxf) : dxf);

describe('sections drawn in space', () => {
  it('are the sections that they were cut as: the same areas and volumes, in any unit, square or skewed', () => {
    const length = fc.double({ min: 4, max: 25, noNaN: true });
    fc.assert(
      fc.property(
        length,
        length,
        length,
        fc.constantFrom('m' as const, 'ft' as const),
        fc.constantFrom(0, 0.3, -0.4),
        (spacing, left, right, unit, skew) => {
          // prettier-ignore
          const sections = crossSections({ course: COURSE, spacing, bends: true, left, right, skew }, surfaces);
          const table = sectionTableOfDxf(readDxf(bytes(sectionsDxf(sections, { name: 'A', course: COURSE, unit, made: '' })))); // prettier-ignore
          if (!table.ok) throw new Error(table.reason);
          expect([table.unit, table.ground, table.design]).toEqual([unit, 'SECTION-GROUND', 'SECTION-DESIGN']);
          expect(table.sections).toBe(sections.length);
          const worked = workByHand({ kind: 'drawings', unit, text: table.text, cell: 1, level: 0 });
          const direct = volumeOfSections(sections.map((s, i) => ({ chainage: s.chainage, cut: s.cut!, fill: s.fill!, row: i }))); // prettier-ignore
          if (!worked.ok || !direct.ok || !worked.sections) throw new Error('not worked');
          const { cut, fill } = direct.volumes.averageEndArea;
          expect(Math.abs(worked.cut - cut)).toBeLessThan(2e-3 * (cut + fill));
          expect(Math.abs(worked.fill - fill)).toBeLessThan(2e-3 * (cut + fill));
        },
      ),
      { numRuns: 60 },
    );
  });

  it('that no line goes across, or of one surface alone, are refused in a sentence', () => {
    const sections = crossSections({ course: COURSE, spacing: 10, bends: false, left: 5, right: 5 }, surfaces.slice(0, 1)); // prettier-ignore
    const one = sectionTableOfDxf(readDxf(bytes(sectionsDxf(sections, { name: 'A', course: COURSE, unit: 'm', made: '' })))); // prettier-ignore
    expect(one).toMatchObject({ ok: false, reason: expect.stringContaining('one surface') });
    const none = sectionTableOfDxf(readDxf('0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n'));
    expect(none).toMatchObject({ ok: false, reason: 'The file has no cross sections.' });
  });
});
