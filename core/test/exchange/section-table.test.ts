import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readLandXml, sectionTableOfLandXml } from '#core/exchange';
import { workByHand } from '#core/quantities';

/** LandXML as another program would write it: surfaces with offsets and elevations by chainage. */
type Drawn = { sta: number; surfaces: [name: string, list: number[]][] };
const fileOf = (drawn: readonly Drawn[], unit = 'meter', alignments = 1): string =>
  `<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="${unit}"/></Units><Alignments>${Array.from({ length: alignments }, (_, k) => `<Alignment name="A${k}" length="100" staStart="0"><CoordGeom><Line><Start>0 0</Start><End>0 100</End></Line></CoordGeom><CrossSects>${drawn.map(({ sta, surfaces }) => `<CrossSect sta="${sta}">${surfaces.map(([name, list]) => `<CrossSectSurf name="${name}"><PntList2D>${list.join(' ')}</PntList2D></CrossSectSurf>`).join('')}</CrossSect>`).join('')}</CrossSects></Alignment>`).join('')}</Alignments></LandXML>`; // prettier-ignore
const tableOf = (...args: Parameters<typeof fileOf>) => sectionTableOfLandXml(readLandXml(fileOf(...args)));

// Level ground at 10 m, 20 m wide, under a bank 2 m high and 8 m wide at its top with slopes of 1 : 2.
const BANK = [-8, 10, -4, 12, 4, 12, 8, 10];
const GROUND = [-10, 10, 10, 10];
const AREA = 2 * 8 + 2 * 4;

describe('cross sections of a file as a table', () => {
  it('give the volume that lies between two surfaces, where both are', () => {
    const table = tableOf(
      [0, 10, 20].map((sta) => ({
        sta,
        surfaces: [
          ['Design', BANK],
          ['Existing', GROUND],
        ],
      })),
    );
    if (!table.ok) throw new Error(table.reason);
    expect(table).toMatchObject({ unit: 'm', ground: 'Existing', design: 'Design', sections: 3, leftOut: 0 });
    const worked = workByHand({ kind: 'drawings', unit: 'm', text: table.text, cell: 1, level: 0 });
    expect(worked.ok && [worked.cut, worked.fill]).toEqual([expect.closeTo(0, 9), expect.closeTo(AREA * 20, 9)]);
  });

  it('have the area of any two courses over each other, held against sampling', () => {
    const course = fc
      .array(fc.tuple(fc.integer({ min: 1, max: 400 }), fc.integer({ min: -300, max: 300 })), {
        minLength: 2,
        maxLength: 9,
      })
      .map((steps) => {
        // prettier-ignore
        let o = -10;
        return steps.flatMap(([w, z]) => [(o += w / 100), z / 100]);
      });
    const at = (list: readonly number[], o: number): number => {
      for (let i = 0; i + 3 < list.length; i += 2)
        if (o >= list[i] && o <= list[i + 2]) return list[i + 1] + ((o - list[i]) / (list[i + 2] - list[i])) * (list[i + 3] - list[i + 1]); // prettier-ignore
      return NaN;
    };
    fc.assert(
      fc.property(course, course, (g, d) => {
        const table = tableOf(
          [0, 1].map((sta) => ({
            sta,
            surfaces: [
              ['ground', g],
              ['design', d],
            ],
          })),
        );
        const [from, to] = [Math.max(g[0], d[0]), Math.min(g.at(-2)!, d.at(-2)!)];
        if (!table.ok) {
          expect(to).toBeLessThanOrEqual(from);
          return;
        }
        const worked = workByHand({ kind: 'drawings', unit: 'm', text: table.text, cell: 1, level: 0 });
        if (!worked.ok) throw new Error(worked.reason);
        const n = 4000;
        let [cut, fill] = [0, 0];
        for (let i = 0; i < n; i++) {
          const o = from + ((i + 0.5) / n) * (to - from);
          const diff = at(d, o) - at(g, o);
          if (diff > 0) fill += (diff * (to - from)) / n;
          else cut -= (diff * (to - from)) / n;
        }
        expect(worked.cut).toBeCloseTo(cut, 2);
        expect(worked.fill).toBeCloseTo(fill, 2);
      }),
    );
  });

  it('keep a wall upright, whose top and foot have one offset', () => {
    const wall = [-4, 10, -4, 12, 4, 12, 4, 10];
    const table = tableOf(
      [0, 10].map((sta) => ({
        sta,
        surfaces: [
          ['ground', GROUND],
          ['design', wall],
        ],
      })),
    );
    const worked = table.ok && workByHand({ kind: 'drawings', unit: 'm', text: table.text, cell: 1, level: 0 });
    expect(worked && worked.ok && worked.fill).toBeCloseTo(2 * 8 * 10, 3);
  });

  it('are in the unit of the file, and count sections that lack a surface', () => {
    const table = tableOf([{ sta: 0, surfaces: [['a', GROUND], ['b', BANK]] }, { sta: 5, surfaces: [['a', GROUND]] }, { sta: 9, surfaces: [['a', GROUND], ['b', BANK]] }], 'USSurveyFoot'); // prettier-ignore
    expect(table).toMatchObject({ ok: true, unit: 'usft', ground: 'a', design: 'b', sections: 2, leftOut: 1 });
  });

  it('are refused in a sentence where nobody can tell what is compared', () => {
    const two: Drawn['surfaces'] = [
      ['a', GROUND],
      ['b', BANK],
    ];
    expect(tableOf([])).toMatchObject({ reason: 'The file has no cross sections.' });
    expect(tableOf([{ sta: 0, surfaces: [two[0]] }])).toMatchObject({ reason: expect.stringContaining('one surface, “a”') }); // prettier-ignore
    expect(tableOf([{ sta: 0, surfaces: [...two, ['c', BANK]] }])).toMatchObject({ reason: expect.stringContaining('3 surfaces, “a”, “b”, “c”') }); // prettier-ignore
    expect(tableOf([{ sta: 0, surfaces: [two[0], two[0], two[1]] }])).toMatchObject({ reason: expect.stringContaining('twice for “a”') }); // prettier-ignore
    expect(tableOf([{ sta: 0, surfaces: two }], 'meter', 2)).toMatchObject({ reason: expect.stringContaining('“A0”, “A1”') }); // prettier-ignore
    expect(tableOf([{ sta: 0, surfaces: [['a', [0, 1, 1, 1]], ['b', [5, 1, 6, 1]]] }])).toMatchObject({ reason: expect.stringContaining('lie over each other') }); // prettier-ignore
  });
});
