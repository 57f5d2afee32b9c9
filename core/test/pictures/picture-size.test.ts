import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { pictureSize } from '#core/pictures';

let folder = '';
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'dunrik-picture-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** A picture of so many pixels, written by GDAL (Debian gdal-bin). */
function written(driver: 'PNG' | 'JPEG', width: number, height: number): Uint8Array {
  const file = join(folder, `made.${driver}`);
  execFileSync('gdal_create', ['-of', 'GTiff', '-outsize', String(width), String(height), '-bands', '3', '-burn', '90', join(folder, 'from.tif')]); // prettier-ignore
  execFileSync('gdal_translate', ['-q', '-of', driver, join(folder, 'from.tif'), file]);
  return new Uint8Array(readFileSync(file));
}

const png = (width: number, height: number): Uint8Array => {
  const bytes = new Uint8Array(60);
  bytes.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52]);
  new DataView(bytes.buffer).setUint32(16, width);
  new DataView(bytes.buffer).setUint32(20, height);
  return bytes;
};
const reasonOf = (bytes: Uint8Array): string => {
  const size = pictureSize(bytes);
  return size.ok ? '' : size.reason;
};

describe('the size of a picture', () => {
  it.each(['PNG', 'JPEG'] as const)('is read from a %s that GDAL wrote', (kind) => {
    expect(pictureSize(written(kind, 321, 123))).toEqual({ ok: true, kind, width: 321, height: 123 });
  });

  it('is found behind the segments that cameras write before it', () => {
    const plain = written('JPEG', 64, 48);
    const much = new Uint8Array(plain.length + 4 + 60_000);
    much.set(plain.subarray(0, 2));
    much.set([0xff, 0xe1, (60_002 >> 8) & 255, 60_002 & 255], 2);
    much.set(plain.subarray(2), 60_006);
    expect(pictureSize(much)).toMatchObject({ width: 64, height: 48 });
  });

  it('that nobody should unpack is refused before anything is', () => {
    expect(reasonOf(png(100_000, 100_000))).toMatch(/100000 × 100000 pixels; at most 400 million/);
    expect(reasonOf(png(0, 10))).toMatch(/no pixels/);
    expect(reasonOf(png(10, 10).subarray(0, 20))).toMatch(/cut short/);
    expect(reasonOf(Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10))).toMatch(/cut short/);
    expect(reasonOf(new TextEncoder().encode('1,2,3'))).toMatch(/no PNG and no JPEG/);
  });

  it('of what is damaged anywhere is one or a sentence, and never none', () => {
    const whole = written('JPEG', 640, 480);
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.nat(255), fc.nat(whole.length), (at, value, cut) => {
        const bytes = whole.slice(0, cut);
        if (at < cut) bytes[at] = value;
        const size = pictureSize(bytes);
        if (size.ok) expect(size.width * size.height).toBeGreaterThan(0);
        else expect(size.reason).not.toBe('');
      }),
    );
  });
});
