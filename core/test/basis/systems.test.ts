import { describe, expect, it } from 'vitest';
import { findSystems, projectedAt, readDefinition, sameDatum, systemByCode, transformBetween } from '#core/basis';
import { byCode, cs2cs, list } from './outside.ts';

const US_FOOT = 1200 / 3937;

describe('systems', () => {
  it('are found by code, by words of name and area, and by what people type', () => {
    expect(findSystems(list, 'EPSG:25833')[0].code).toBe('EPSG:25833');
    expect(findSystems(list, 'etrs89 utm 33n').map((s) => s.code)).toContain('EPSG:25833');
    expect(findSystems(list, 'texas central ftus').map((s) => s.code)).toContain('EPSG:2277');
    expect(findSystems(list, '   ')).toEqual([]);
    expect(findSystems(list, '(((').length).toBe(0);
  });

  it('in feet are held in metres, and say the unit they are published in', () => {
    const s = byCode('2277');
    expect(s.unit).toBe('usft');
    expect(s.definition).toContain('+units=m');
    const published = list.find((e) => e.code === '2277')!.proj4!.replace('+towgs84=0,0,0,0,0,0,0', '');
    const [[east, north]] = cs2cs('+proj=longlat +ellps=GRS80 +no_defs', published, [[-98, 31]]);
    const at = projectedAt(s, -98, 31)!;
    expect(at.x / US_FOOT).toBeCloseTo(east, 3);
    expect(at.y / US_FOOT).toBeCloseTo(north, 3);
    expect(at.x).toBeGreaterThan(s.extent![0]);
    expect(at.x).toBeLessThan(s.extent![2]);
  });

  it('nearly all of the list can be made; each that is made holds the middle of its area', () => {
    let made = 0;
    let refused = 0;
    for (const entry of list) {
      if (entry.kind !== 'CRS-PROJCRS' || !entry.proj4 || Number(entry.code) % 7) continue;
      const s = systemByCode(list, entry.code);
      if (s.ok) made++;
      else refused++;
    }
    expect(made).toBeGreaterThan(700);
    expect(refused / made).toBeLessThan(0.05);
  });

  it('bad definitions are refused in a sentence', () => {
    const reason = (d: string): string => {
      const r = readDefinition(d);
      return r.ok ? 'read' : r.reason;
    };
    expect(reason('+proj=tmerc +k=0')).toContain('scale factor of 0');
    expect(reason('+proj=tmerc +k=10')).toContain('scale factor of 10');
    expect(reason('+proj=tmerc +lat_0=121 +lon_0=15')).toContain('swapped?');
    expect(reason('+proj=magic')).toContain('magic');
    expect(reason('+proj=tmerc +nadgrids=../../etc/passwd;')).toContain('nadgrids');
    expect(reason('+lat_0=3')).toContain('+proj');
    expect(reason('x'.repeat(5000))).toContain('5000');
    expect(reason('+proj=lcc +lat_1=30 +lat_2=-30')).toContain('cone');
    expect(reason('+proj=tmerc +k=abc')).toContain('not a number');
    expect(systemByCode(list, '4978').ok).toBe(false);
    expect(systemByCode(list, 'nonsense')).toEqual({ ok: false, reason: expect.stringContaining('not a code') });
  });

  it('on one datum need no grid between them', () => {
    expect(sameDatum(byCode('25832'), byCode('25833'))).toBe(true);
    const made = transformBetween(byCode('25832'), byCode('25833'));
    expect(made.ok).toBe(true);
  });
});
