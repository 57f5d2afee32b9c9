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
