import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fontkit from '@pdf-lib/fontkit';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BOLD, EM, plotFrames, plotOnGround, REGULAR, seriesOf, TINTS } from '#core/drawing';
import type { ChainResult } from '#core/chain';
import type { Plot, ProjectDocument } from '#core/project';
import { packContours, packLines, packPoints, packSurface } from '#core/stages';
import { demoProject } from '#demo';
import { computed } from '../../demo/test/demo-results.ts';
import { drawPlots } from '../src/paper/plot-thread.ts';
import { fontOfWoff } from '../src/paper/woff.ts';

// Plots as they are printed, measured by Debian's poppler-utils: words with their places, fonts, pixels.

const folder = mkdtempSync(join(tmpdir(), 'dunrik-plot-'));
const file = join(folder, 'plot.pdf');
afterAll(() => rmSync(folder, { recursive: true }));
const run = (command: string, args: string[]): string => {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 1 << 28 });
  if (status !== 0) throw new Error(stderr);
  return stdout;
};
const MM = 25.4 / 72;

const plot: Plot = { id: 'p', title: 'Żuraw, Ürün, Άργος', paper: 'A3', upright: false, scale: 500, x: 4300, y: 7745, turn: 0, grid: null, contours: true, legend: true, client: 'Привет', drawnBy: '', checkedBy: '', number: '7', note: '' }; // prettier-ignore
let doc: ProjectDocument;
let result: ChainResult;
const printed = async (plots: Plot[], boxes = false, d = doc) => {
  const contours = packContours(result.contours.get(d.surfaces[0].id)!.list);
  const made = await drawPlots({ document: d, sheets: plots.map((p) => ({ plot: p, contours, surface: p.look ? packSurface(result.surfaces[0].surface) : null })), facts: { project: 'Ostrel Lane', revision: 3, date: '2026-11-25' }, points: packPoints(result.points), lines: packLines(result.linework), boxes }); // prettier-ignore
  if (made.bytes) writeFileSync(file, made.bytes);
  return made;
};
beforeAll(async () => {
  ({ doc, result } = await computed(demoProject()));
});

interface Word {
  text: string;
  /** mm from the lower left. */
  left: number;
  right: number;
  bottom: number;
  top: number;
}
function wordsOf(height: number): Word[] {
  const found = run('pdftotext', ['-bbox', file, '-']).matchAll(/<word xMin="([\d.-]+)" yMin="([\d.-]+)" xMax="([\d.-]+)" yMax="([\d.-]+)">([^<]*)</g); // prettier-ignore
  return [...found].map(([, x0, y0, x1, y1, text]) => {
    const [left, top, right, bottom] = [x0, y0, x1, y1].map((v) => Number(v) * MM);
    return { text, left, right, bottom: height - bottom, top: height - top };
  });
}

describe('a printed plot', () => {
  it('has every word on it as it is written, in fonts that are in the file', async () => {
    await printed([plot]);
    const words = new Set(wordsOf(297).map((w) => w.text));
    for (const word of [
      'Żuraw,',
      'Ürün,',
      'Άργος',
      'Привет',
      'Ostrel',
      'kerb,',
      'control',
      'E',
      '4300',
      '1',
      '500',
      'Legend',
    ])
      // prettier-ignore
      expect(words).toContain(word);
    for (const line of run('pdffonts', [file]).trim().split('\n').slice(2))
      expect(line).toMatch(/TrueType\s+\S+\s+yes /);
  });

  it('has its letters as wide as they were laid out to be, and as high', async () => {
    await printed([plot]);
    const heights = wordsOf(297).filter((w) => /^\d\d\.\d{3}$/.test(w.text));
    expect(heights.length).toBeGreaterThan(200);
    // Six letters of the monospaced face, six tenths of the em each.
    for (const w of heights) expect(w.right - w.left).toBeCloseTo(6 * 0.6 * EM.mono * 1.8, 1);
  });

  it('is at true scale: its frame and the ends of a kerb stand where the ground says, to a pixel', async () => {
    await printed([{ ...plot, contours: false, legend: false }]);
    const perMm = 8;
    run('pdftoppm', ['-r', String(25.4 * perMm), '-gray', file, join(folder, 'plot')]);
    const image = readFileSync(join(folder, 'plot-1.pgm'));
    const head = /^P5\s+(\d+)\s+(\d+)\s+255\s/.exec(image.subarray(0, 40).toString('latin1'))!;
    const [width, height] = [Number(head[1]), Number(head[2])];
    expect(Math.max(Math.abs(width - 420 * perMm), Math.abs(height - 297 * perMm))).toBeLessThan(1.5);
    const dark = (x: number, y: number): boolean => {
      // The darkest within a pixel or two: a line of a fourth of a millimetre is two pixels.
      for (let dx = -2; dx <= 2; dx++)
        for (let dy = -2; dy <= 2; dy++)
          if (image[head[0].length + (height - 1 - Math.round(y * perMm) + dy) * width + Math.round(x * perMm) + dx] < 150) return true; // prettier-ignore
      return false;
    };
    const { window } = plotFrames(plot);
    for (const t of [0.1, 0.5, 0.9]) {
      expect(dark(window.left + window.width * t, window.bottom)).toBe(true);
      expect(dark(window.left, window.bottom + window.height * t)).toBe(true);
    }
    const kerb = result.linework.lines.find((l) => l.code === 'KT')!;
    const onSheet = (x: number, y: number): [number, number] => [window.left + window.width / 2 + (x - plot.x) * 2, window.bottom + window.height / 2 + (y - plot.y) * 2]; // prettier-ignore
    expect(kerb.rows.length).toBeGreaterThan(4);
    kerb.x.forEach((x, i) => expect(dark(...onSheet(x, kerb.y[i]))).toBe(true));
    expect(plotOnGround(plot)[1][2] - plotOnGround(plot)[1][0]).toBeCloseTo(window.width / 2, 9);
  });

  it('of a series has a sheet each, the overview first, every one with its own number', async () => {
    const sheets = seriesOf(plot, [4270, 4320].map((x) => ({ x, y: 7745, turn: 0 })), 's', 'm'); // prettier-ignore
    const d = { ...doc, drawing: { ...doc.drawing, plots: sheets } };
    await printed(sheets, false, d);
    const pages = run('pdftotext', ['-layout', file, '-']).split('\f').slice(0, -1);
    expect(pages).toHaveLength(3);
    pages.forEach((page, i) => expect(page).toContain(`7/${i}`));
    expect(pages[0]).toContain('overview');
  });

  it('is not made in silence where a letter has no font: which, and in what', async () => {
    const hebrew = { ...plot, client: 'רות' };
    const refused = await printed([hebrew]);
    expect(refused.lacking?.map(([l]) => l)).toEqual(['ר', 'ו', 'ת']);
    expect((await printed([hebrew], true)).bytes).not.toBeNull();
  });
});

it('words are laid out by the widths that the fonts have', () => {
  for (const [weight, widths] of [
    [400, REGULAR],
    [700, BOLD],
  ] as const) {
    const fonts = ['latin', 'latin-ext'].map((script) => {
      const path = createRequire(import.meta.url).resolve(`@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-${script}-${weight}-normal.woff`); // prettier-ignore
      return fontkit.create(fontOfWoff(readFileSync(path)) as never) as unknown as { unitsPerEm: number; capHeight: number; hasGlyphForCodePoint: (c: number) => boolean; glyphForCodePoint: (c: number) => { advanceWidth: number } }; // prettier-ignore
    });
    expect(fonts[0].capHeight / fonts[0].unitsPerEm).toBeCloseTo(1 / EM.text, 3);
    widths.forEach((width, i) => {
      const font = fonts.find((f) => f.hasGlyphForCodePoint(0x20 + i));
      expect([i, width]).toEqual([i, font ? Math.round((font.glyphForCodePoint(0x20 + i).advanceWidth * 1000) / font.unitsPerEm) : 0]); // prettier-ignore
    });
  }
});

it('prints the tints of a look under its lines', async () => {
  const looks = [{ id: 'l', name: 'Heights', tintedBy: 'elevation' as const, shaded: false, sun: { bearing: 0, height: 45 }, stretch: 1 }]; // prettier-ignore
  await printed([{ ...plot, look: 'l' }], false, { ...doc, drawing: { ...doc.drawing, looks } });
  run('pdftoppm', ['-r', '72', file, join(folder, 'tinted')]);
  const ppm = readFileSync(join(folder, 'tinted-1.ppm'));
  const colours = new Set<string>();
  for (let i = ppm.length - 3; i > 20; i -= 3) colours.add([...ppm.subarray(i, i + 3)].join(' '));
  // Of every band of elevation there is ground on this sheet.
  for (const hex of TINTS.elevation) expect(colours).toContain([1, 3, 5].map((k) => parseInt(hex.slice(k, k + 2), 16)).join(' ')); // prettier-ignore
});
