import { execFileSync } from 'node:child_process';
import { unzipSync } from 'fflate';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { applyMatrix, fitPairs, heldBack, invertMatrix, type FitPair } from '#core/basis';
import { runChain, type ChainResult } from '#core/chain';
import { readKey } from '#core/sources';
import { applyChange, newDocument, type Change, type ProjectDocument } from '#core/project';
import { gridsOfPlan, readByPlan, readingPlan, type GridBytes } from '#core/sources';
import type { ReadPoints } from '#core/exchange';
import { makePackage, PackageRefused, packageSpecSchema, type Coordinates } from '#core/handover';
import { TARN_FACTOR, tarnProject, tarnSystem } from '#demo';

const FOOT = 1200 / 3937;
const demo = tarnProject();
const apply = (doc: ProjectDocument, change: Change): ProjectDocument => {
  const applied = applyChange(doc, change);
  if (!applied.ok) throw new Error(applied.reason);
  return applied.document;
};
let doc = demo.changes.reduce(apply, newDocument(demo.settings));
let result: ChainResult;

beforeAll(async () => {
  const run = async (): Promise<ChainResult> => {
    const reads = new Map<string, ReadPoints>();
    for (const intake of doc.intakes) {
      const plan = readingPlan(doc.basis, intake);
      const grids: GridBytes = {};
      for (const g of gridsOfPlan(plan)) grids[g.sha256] = demo.files.find((f) => f.id === g.fileId)!.bytes;
      const reading = await readByPlan(demo.files.find((f) => f.id === intake.fileId)!.bytes, plan, grids);
      if (!reading?.ok) throw new Error('not read');
      reads.set(readKey(doc.basis, intake), reading.read);
    }
    return runChain(doc, (i) => reads.get(readKey(doc.basis, i))!);
  };
  result = await run();
  for (let turn = 0; turn < 8; turn++) {
    const query = result.queries.find((q) => q.stage === 'basis' && q.remedies.length && !q.accepted);
    if (!query) break;
    doc = apply(doc, query.remedies[0].change);
    result = await run();
  }
});

const made = { project: 'Tarn', revision: 1, at: '2026-11-25T08:00:00.000Z', by: 'Ina Quillow' };
const CSV = {
  kind: 'csv' as const,
  order: ['P', 'E', 'N', 'Z', 'D'] as const,
  decimals: 4,
  separator: ',' as const,
  headings: true,
  control: true,
};
function pack(coordinates: Coordinates, files: unknown[] = [CSV]) {
  const spec = packageSpecSchema.parse({ name: 'Out', unit: 'usft', coordinates, files });
  const { manifest, zip } = makePackage(doc, result, spec, made);
  const tree = unzipSync(zip);
  const csv = Object.keys(tree).find((n) => n.endsWith('.csv'));
  const rows = csv
    ? new TextDecoder()
        .decode(tree[csv])
        .trim()
        .split('\r\n')
        .map((r) => r.split(','))
    : [];
  return {
    manifest,
    rows,
    at: (number: string) =>
      rows
        .find((r) => r[0] === number)!
        .slice(1, 4)
        .map(Number),
  };
}

describe('packages in other coordinates than the grid', () => {
  it('on the ground have lengths longer by the stated factor, about the base point', () => {
    const grid = pack({ kind: 'grid' });
    const ground = pack({ kind: 'ground' });
    const length = (p: typeof grid): number => {
      const [a, b] = [p.at('TH1'), p.at('TH3')];
      return Math.hypot(b[0] - a[0], b[1] - a[1]);
    };
    expect(Math.abs(length(ground) * TARN_FACTOR - length(grid))).toBeLessThan(2e-4);
    expect(ground.at('TH1')[2]).toBe(grid.at('TH1')[2]);
    expect(ground.manifest.basis).toContain('ground coordinates about E 2\u2009014\u2009300.000, N 381\u2009200.000');
    expect(ground.manifest.basis).toContain('project scale factor 0.99993410 (Isle Survey Office, sheet 7)');
    expect(grid.manifest.coordinates).toMatchObject({
      kind: 'grid',
      scaleFactor: TARN_FACTOR,
      geoid: 'tarn-geoid.gtx',
      system: { name: tarnSystem().name },
    });
  });

  it('as latitude and longitude are what PROJ’s cs2cs makes of the grid coordinates', () => {
    const { rows } = pack({ kind: 'geographic' });
    expect(rows[0]).toEqual(['Number', 'Longitude', 'Latitude', 'Elevation [usft]', 'Description']);
    const grid = pack({ kind: 'grid' });
    const numbers = grid.rows.slice(1).map((r) => r[0]);
    const input = grid.rows.slice(1).map((r) => `${Number(r[1]) * FOOT} ${Number(r[2]) * FOOT}`);
    const { definition } = tarnSystem();
    const out = execFileSync(
      'cs2cs',
      ['-f', '%.10f', ...definition.split(' '), '+to', '+proj=longlat', '+ellps=GRS80', '+towgs84=0,0,0', '+no_defs'],
      { input: input.join('\n') + '\n', encoding: 'utf8' },
    );
    const truth = out
      .trim()
      .split('\n')
      .map((l) => l.trim().split(/\s+/).map(Number));
    expect(truth).toHaveLength(numbers.length);
    rows.slice(1).forEach((r, i) => {
      // 4 decimals of a foot are 3e-5 m, 3e-10 degrees.
      expect(Math.abs(Number(r[1]) - truth[i][0])).toBeLessThan(2e-9);
      expect(Math.abs(Number(r[2]) - truth[i][1])).toBeLessThan(2e-9);
    });
  });

  it('back on the crew’s assumed start are the coordinates that the crew had', async () => {
    const intake = doc.intakes.find((i) => i.fileName === 'yard-assumed.txt')!;
    const out = pack({ kind: 'local', intake: intake.id });
    const text = new TextDecoder().decode(demo.files.find((f) => f.name === 'yard-assumed.txt')!.bytes);
    for (const line of text.trim().split('\r\n').slice(5, 40)) {
      const [number, north, east] = line.split(' ');
      const [e, n] = out.at(number);
      expect(Math.abs(e - Number(east))).toBeLessThan(6e-5);
      expect(Math.abs(n - Number(north))).toBeLessThan(6e-5);
    }
  });

  it('are refused where they would say something untrue', () => {
    const landxml = { kind: 'landxml', decimals: 4 };
    expect(() => pack({ kind: 'geographic' }, [CSV, landxml])).toThrow(PackageRefused);
    expect(() => pack({ kind: 'local', intake: 'none' })).toThrow(/no local basis/);
    expect(pack({ kind: 'ground' }, [landxml]).manifest.files[0].readBack.ok).toBe(true);
  });
});

describe('fits', () => {
  const number = fc.double({ min: -1e4, max: 1e4, noNaN: true });
  it('taken back by their inverse are where they were', () => {
    fc.assert(
      fc.property(
        // Diagonally dominant, so that an inverse exists.
        fc.array(fc.integer({ min: -200, max: 200 }), { minLength: 9, maxLength: 9 }),
        fc.tuple(number, number, number),
        fc.tuple(number, number, number),
        (parts, shift, place) => {
          const l = parts.map((v, i) => v / 1000 + (i % 4 === 0 ? 1 : 0));
          const m = [l[0], l[1], l[2], shift[0], l[3], l[4], l[5], shift[1], l[6], l[7], l[8], shift[2]];
          const inverse = invertMatrix(m);
          const there = applyMatrix(m, ...place);
          const back = applyMatrix(inverse!, there.x, there.y, there.z);
          expect(Math.abs(back.x - place[0]) + Math.abs(back.y - place[1]) + Math.abs(back.z - place[2])).toBeLessThan(
            1e-5,
          );
        },
      ),
    );
    expect(invertMatrix([1, 0, 0, 0, 2, 0, 0, 0, 0, 0, 1, 0])).toBeNull();
  });

  const pairs = (wrong: number | null, noise: number): FitPair[] =>
    Array.from({ length: 7 }, (_, i) => {
      const from = { x: 100 * Math.cos(i * 2.1), y: 130 * Math.sin(i * 1.7), z: 5 };
      const jitter = noise * Math.sin(i * 12.9898);
      const to = { x: 500 + 0.8 * from.x - 0.6 * from.y + jitter, y: 300 + 0.6 * from.x + 0.8 * from.y - jitter, z: 9 };
      if (i === wrong) to.x += 4;
      return { name: `P${i}`, from, to, plan: true, height: true };
    });
  const how = { kind: 'plan', scale: 'free', height: 'shift' } as const;

  it('name the one point that holds the others back, and how far off it is', () => {
    for (let wrong = 0; wrong < 7; wrong++) {
      const held = heldBack(pairs(wrong, 0.01), how, 3)!;
      expect(held.name).toBe(`P${wrong}`);
      expect(Math.abs(held.away - 4)).toBeLessThan(0.1);
    }
  });

  it('blame nobody where all agree, where two are wrong alike, or where too few are left', () => {
    expect(heldBack(pairs(null, 0.01), how, 3)).toBeNull();
    const two = pairs(2, 0.01);
    two[5].to.y += 4;
    expect(heldBack(two, how, 3)).toBeNull();
    expect(heldBack(pairs(1, 0.01).slice(0, 3), how, 3)).toBeNull();
    expect(fitPairs(pairs(null, 0).slice(0, 1), how).ok).toBe(false);
  });
});
