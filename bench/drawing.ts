import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readFileSync, rmSync, statSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { measureDrawing } from './page.ts';

const LINES = 260_000;
const LAYERS = 40;
const VERTICES = 6;
const ROUNDS = 5;
const SAY_MEMORY = "data:text/javascript,process.on('exit',()=>console.error('peak',process.resourceUsage().maxRSS))";

/** A drawing of 260,000 lines on 40 layers, as text of some 67 MB. */
function writeDrawing(file: string, lines = LINES): void {
  const out = openSync(file, 'w');
  let seed = 1;
  const random = (): number => (seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff) / 0x80000000;
  writeSync(out, '  0\nSECTION\n  2\nHEADER\n  9\n$ACADVER\n  1\nAC1015\n  9\n$INSUNITS\n 70\n     6\n  0\nENDSEC\n  0\nSECTION\n  2\nENTITIES\n'); // prettier-ignore
  for (let i = 0; i < lines;) {
    let text = '';
    for (const end = Math.min(lines, i + 1000); i < end; i++) {
      const [x, y] = [500_000 + random() * 5000, 4_100_000 + random() * 5000];
      text += `  0\nLWPOLYLINE\n  5\n${(i + 256).toString(16)}\n100\nAcDbEntity\n  8\nLAYER_${i % LAYERS}\n100\nAcDbPolyline\n 90\n${VERTICES}\n 70\n0\n 38\n${(random() * 100).toFixed(3)}\n`;
      for (let k = 0; k < VERTICES; k++)
        text += ` 10\n${(x + 2 * k).toFixed(3)}\n 20\n${(y + k + random()).toFixed(3)}\n`;
    }
    writeSync(out, text);
  }
  writeSync(out, '  0\nENDSEC\n  0\nEOF\n');
  closeSync(out);
}

const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1];

/** A drawing of 100 MB on the page: how soon something of it is seen, and whether the page answers meanwhile. */
export async function pageDrawingFigure(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'dunrik-bench-'));
  const file = join(folder, 'lines.dxf');
  try {
    writeDrawing(file, 390_000);
    const { first, table, whole, longest } = await measureDrawing(file, LAYERS, 390_000);
    console.log(`a drawing of ${(statSync(file).size / 1e6).toFixed(0)} MB on the page: its first lines after ${(first / whole).toFixed(2)} of the whole (wanted 0.25), its table after ${(table / whole).toFixed(2)}; longest script ${longest.thread.toFixed(0)} ms of its thread (wanted 100), ${longest.what}`); // prettier-ignore
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Looking through a drawing on the command line, beside ogrinfo (Debian gdal-bin) on the same file and a loop over its line ends. */
export function drawingFigure(): void {
  const folder = mkdtempSync(join(tmpdir(), 'dunrik-bench-'));
  const file = join(folder, 'lines.dxf');
  try {
    writeDrawing(file);
    const times = { ours: [] as number[], ogrinfo: [] as number[], loop: [] as number[] };
    let peak = 0;
    const timed = (into: number[], work: () => void): void => {
      const start = performance.now();
      work();
      into.push(performance.now() - start);
    };
    const inspect = (...more: string[]) => spawnSync(process.execPath, [...more, 'scripts/dunrik.mjs', 'inspect', file, '--json'], { encoding: 'utf8', maxBuffer: 1 << 26 }); // prettier-ignore
    // Built before the first round.
    inspect();
    for (let round = 0; round < ROUNDS; round++) {
      timed(times.ours, () => {
        const told = inspect('--import', SAY_MEMORY);
        peak = Math.max(peak, Number(/peak (\d+)/.exec(told.stderr)?.[1]) / 1024);
        if (JSON.parse(told.stdout).counts.LWPOLYLINE !== LINES) throw new Error('not all lines are read');
      });
      timed(times.ogrinfo, () => spawnSync('ogrinfo', ['-ro', '-al', '-so', file]));
      timed(times.loop, () => {
        const bytes = readFileSync(file);
        let lines = 0;
        for (let at = bytes.indexOf(10); at >= 0; at = bytes.indexOf(10, at + 1)) lines++;
        if (lines < LINES) throw new Error('the file is not what it was');
      });
    }
    const [ours, ogrinfo, loop] = [median(times.ours), median(times.ogrinfo), median(times.loop)];
    console.log(`a drawing of ${LINES.toLocaleString('en-GB')} lines looked through: ${(ours / ogrinfo).toFixed(2)} of ogrinfo (wanted 0.3), a loop over its line ends ${(loop / ogrinfo).toFixed(2)}; ${peak.toFixed(0)} MB at the most (wanted 200)`); // prettier-ignore
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
