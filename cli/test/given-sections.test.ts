import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

describe('volume --sections', () => {
  it('adds up a table of sections in its own unit: average end area and prismoidal', () => {
    writeFileSync(at('heap.csv'), 'Chainage [ft],Cut [ft2],Fill [ft2]\n0,100,0\n3,49,0\n6,16,0\n');
    const v = json<{ sections: number; methods: { averageEndArea: { cut: number; net: number }; prismoidal: { cut: number } }; said: string[] }>('volume', '--sections', at('heap.csv')); // prettier-ignore
    const cubicFoot = 0.3048 ** 3;
    expect(v).toMatchObject({ sections: 3, said: [] });
    expect(v.methods.averageEndArea.cut / cubicFoot).toBeCloseTo((3 * (149 + 65)) / 2, 9);
    expect(v.methods.averageEndArea.net).toBe(v.methods.averageEndArea.cut);
    expect(v.methods.prismoidal.cut / cubicFoot).toBeCloseTo(312, 9);
  });

  it('says why there is no prismoidal volume, and what it cannot read', () => {
    writeFileSync(at('two.csv'), '0,1,0\n10,3,0\n');
    const two = dunrik('volume', '--sections', at('two.csv'), '--unit', 'm');
    expect(two.out).toContain('average end area cut 20.000 m³, fill 0.000 m³, cut − fill 20.000 m³');
    expect(two.out).toContain('No prismoidal volume: it takes an odd number of sections');
    writeFileSync(at('bad.csv'), '0,1,0\n10,three,0\n');
    expect(dunrik('volume', '--sections', at('bad.csv'), '--unit', 'm')).toMatchObject({ code: 1, err: expect.stringContaining('Row 2: the cut area “three”') }); // prettier-ignore
    expect(dunrik('volume')).toMatchObject({ code: 2 });
    expect(dunrik('volume', at('two.csv'), '--sections', at('two.csv'))).toMatchObject({ code: 2 });
  });
});

describe('volume --drawings and --corners', () => {
  it('works section drawings and cells as by hand', () => {
    writeFileSync(at('drawings.txt'), 'Chainage Offset Ground Design\n0 -4 10 12\n0 4 10 12\n30 -4 10 12\n30 4 10 12');
    const drawn = json<{ methods: { averageEndArea: { fill: number } } }>('volume', '--drawings', at('drawings.txt'), '--unit', 'm'); // prettier-ignore
    expect(drawn.methods.averageEndArea.fill).toBe(480);
    writeFileSync(at('corners.txt'), '102 103 101\n101 102 98\n100 99 97');
    const cells = json<{ cells: { mean: number }[]; methods: { cells: { net: number } } }>('volume', '--corners', at('corners.txt'), '--unit', 'm', '--cell', '10', '--level', '100'); // prettier-ignore
    // 2 + 1 + 0.5 − 1, times 100 m².
    expect(cells.cells.map((c) => c.mean)).toEqual([2, 1, 0.5, -1]);
    expect(cells.methods.cells.net).toBe(250);
  });

  it('takes the cross sections of a LandXML file, in its own unit, and refuses those of one surface', () => {
    const surface = (name: string, list: string): string => `<CrossSectSurf name="${name}"><PntList2D>${list}</PntList2D></CrossSectSurf>`; // prettier-ignore
    const file = (of: (sta: number) => string): string => `<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Imperial linearUnit="foot"/></Units><Alignments><Alignment name="A" length="200" staStart="0"><CoordGeom><Line><Start>0 0</Start><End>0 200</End></Line></CoordGeom><CrossSects>${[0, 100].map((sta) => `<CrossSect sta="${sta}">${of(sta)}</CrossSect>`).join('')}</CrossSects></Alignment></Alignments></LandXML>`; // prettier-ignore
    writeFileSync(at('sections.xml'), file(() => surface('existing', '-10 50 10 50') + surface('proposed', '-10 53 10 53'))); // prettier-ignore
    const drawn = json<{ methods: { averageEndArea: { fill: number } } }>('volume', '--drawings', at('sections.xml'));
    expect(drawn.methods.averageEndArea.fill).toBeCloseTo(20 * 3 * 100 * 0.3048 ** 3, 6);
    writeFileSync(
      at('one.xml'),
      file(() => surface('existing', '-10 50 10 50')),
    );
    const refused = dunrik('volume', '--drawings', at('one.xml'));
    expect([refused.code, refused.err]).toEqual([1, expect.stringContaining('of one surface, “existing”')]);
  });

  it('takes sections that ezdxf draws in space across a line, in the unit of the drawing', () => {
    // Ground at 10 m and a design at 12 m, 8 m wide, every 15 m along a line that runs east; drawn from either side.
    const draw = `
import ezdxf, sys
doc = ezdxf.new('R2000'); doc.units = 6; m = doc.modelspace()
m.add_polyline3d([(100, 200, 0), (130, 200, 0)], dxfattribs={'layer': 'CENTRE'})
for i, x in enumerate((100, 115, 130)):
    for layer, z in (('EXISTING', 10), ('FORMATION', 12)):
        ends = [(x, 204, z), (x, 200, z), (x, 196, z)]
        m.add_polyline3d(ends if i % 2 else ends[::-1], dxfattribs={'layer': layer})
doc.saveas(sys.argv[1])`;
    expect(spawnSync('/usr/bin/python3', ['-c', draw, at('sections.dxf')]).status).toBe(0);
    const drawn = json<{ sections: number; methods: { averageEndArea: { cut: number; fill: number } } }>('volume', '--drawings', at('sections.dxf')); // prettier-ignore
    expect(drawn.sections).toBe(3);
    expect([drawn.methods.averageEndArea.cut, drawn.methods.averageEndArea.fill]).toEqual([0, expect.closeTo(8 * 2 * 30, 6)]); // prettier-ignore
  });

  it('say what is missing, and the row that cannot be read', () => {
    writeFileSync(at('holes.txt'), '1 2\n3 x');
    expect(dunrik('volume', '--corners', at('holes.txt'), '--unit', 'm', '--cell', '10').code).toBe(2);
    expect(dunrik('volume', '--drawings', at('holes.txt')).err).toContain('does not say its unit');
    const read = dunrik('volume', '--corners', at('holes.txt'), '--unit', 'm', '--cell', '10', '--level', '1');
    expect(read.code).toBe(1);
    expect(read.err).toContain('Row 2, corner 2');
    expect(dunrik('volume', at('holes.txt'), '--drawings', at('holes.txt')).code).toBe(2);
  });
});
