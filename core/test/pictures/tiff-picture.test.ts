import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { readTiffPicture } from '#core/pictures';

const folder = mkdtempSync(join(tmpdir(), 'dunrik-tiff-'));
afterAll(() => rmSync(folder, { recursive: true }));

/** A TIFF that GDAL wrote (Debian gdal-bin). */
function written(name: string, ...options: string[]): Uint8Array {
  const file = join(folder, `${name}.tif`);
  execFileSync('gdal_create', ['-q', '-outsize', '60', '40', '-burn', '90', ...options, file], { stdio: 'pipe' });
  return new Uint8Array(readFileSync(file));
}
const PLACED = ['-bands', '3', '-a_srs', 'EPSG:32735', '-a_ullr', '1000', '2000', '1030', '1980'];

describe('a picture in TIFF', () => {
  it.each([
    ['plain', []],
    ['tiled', ['-co', 'TILED=YES', '-co', 'COMPRESS=DEFLATE']],
    ['of the 64-bit form', ['-co', 'BIGTIFF=YES']],
  ])('%s says how large it is, where, in which unit and system', async (name, options) => {
    expect(await readTiffPicture(written(name.replaceAll(' ', '-'), ...PLACED, ...options))).toEqual({ ok: true, width: 60, height: 40, matrix: [0.5, 0, 1000, 0, -0.5, 2000, 0, 0, 1], isUnitSaid: true, system: 'EPSG:32735', remark: null }); // prettier-ignore
  });

  it('that holds numbers is none', async () => {
    const read = await readTiffPicture(written('grid', '-bands', '1', '-ot', 'Float32'));
    expect(read.ok ? '' : read.reason).toContain('holds numbers, not colours');
  });

  it('that is damaged anywhere is read or refused with a sentence', async () => {
    const whole = written('damaged', ...PLACED);
    await fc.assert(
      fc.asyncProperty(
        fc.nat(Math.min(400, whole.length - 1)),
        fc.nat(255),
        fc.nat(whole.length),
        async (at, value, cut) => {
          const bytes = whole.slice(0, Math.max(cut, 8));
          if (at < bytes.length) bytes[at] = value;
          const read = await readTiffPicture(bytes);
          if (read.ok) expect(read.width * read.height).toBeGreaterThan(0);
          else expect(read.reason.length).toBeGreaterThan(10);
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 60), seed: 2026 },
    );
  });
});
