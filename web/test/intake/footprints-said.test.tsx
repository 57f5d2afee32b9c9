// @vitest-environment jsdom
import { describe, expect, it } from 'vitest';
import { FootprintsSaid } from '../../src/intake/footprints-said.tsx';
import { draw } from '../drawn.tsx';

const TOLD = { closed: 0, inside: 0, around: 0, unnamed: 0, open: [], openCount: 0 };
const said = (told: Partial<Parameters<typeof FootprintsSaid>[0]['footprints']>): string =>
  draw(<FootprintsSaid footprints={{ ...TOLD, ...told }} unit="m" />).container.textContent;

describe('what became of footprints', () => {
  it('is how many close, and what names them', () => {
    expect(said({ closed: 12, inside: 10, around: 1, unnamed: 1 })).toBe('12 footprints: 10 named by the text inside, 1 by the text of the lot around, 1 without a name. Corners are numbered after the name.'); // prettier-ignore
    expect(said({ closed: 1, unnamed: 1 })).toBe('1 footprint: 1 without a name.');
  });

  it('is where the ends of others are, the first of them', () => {
    const open = [1, 2, 3, 4].map((n) => ({ layer: 'HOUSE', x: 100 * n, y: 200 }));
    expect(said({ open: open.slice(0, 1), openCount: 1 })).toContain('1 line does not close and stays open, ending at E 100.00 N 200.00 m.'); // prettier-ignore
    expect(said({ open, openCount: 4 })).toContain('4 lines do not close and stay open, ending at E 100.00 N 200.00; E 200.00 N 200.00; E 300.00 N 200.00; … m.'); // prettier-ignore
  });
});
