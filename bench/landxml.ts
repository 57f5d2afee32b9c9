import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SaxesParser } from 'saxes';
import { readLandXmlBytes } from '#core/exchange';

const SIDE = 708;
const ROUNDS = 5;
const PIECE = 1 << 20;

/** A surface of a million faces, as LandXML of some 53 MB. */
function writeSurface(file: string): void {
  const out = openSync(file, 'w');
  writeSync(out, '<?xml version="1.0"?>\n<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="meter"/></Units><Surfaces><Surface name="S"><Definition surfType="TIN"><Pnts>\n'); // prettier-ignore
  for (let i = 0; i < SIDE; i++) {
    let text = '';
    for (let j = 0; j < SIDE; j++) text += `<P id="${i * SIDE + j + 1}">${(4_100_000 + i * 1.37).toFixed(4)} ${(500_000 + j * 1.41).toFixed(4)} ${(60 + ((i * j) % 97) / 13).toFixed(4)}</P>\n`; // prettier-ignore
    writeSync(out, text);
  }
  writeSync(out, '</Pnts><Faces>\n');
  for (let i = 0; i + 1 < SIDE; i++) {
    let text = '';
    for (let j = 0; j + 1 < SIDE; j++) {
      const a = i * SIDE + j + 1;
      text += `<F>${a} ${a + 1} ${a + SIDE}</F>\n<F>${a + 1} ${a + SIDE + 1} ${a + SIDE}</F>\n`;
    }
    writeSync(out, text);
  }
  writeSync(out, '</Faces></Definition></Surface></Surfaces></LandXML>\n');
  closeSync(out);
}

const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1];
const timed = (work: () => void): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};

/** The XML parser alone, over the same bytes, asked for nothing. */
function bareParser(bytes: Uint8Array): void {
  const text = new TextDecoder().decode(bytes);
  const parser = new SaxesParser();
  for (let i = 0; i < text.length; i += PIECE) parser.write(text.slice(i, i + PIECE));
  parser.close();
}

/** Most memory of a process that reads the file, and that reads it as LandXML; MB. */
function peakOf(file: string, read: boolean): number {
  const program = `import { readFileSync } from 'node:fs'; import { readLandXmlBytes } from '#core/exchange'; const bytes = new Uint8Array(readFileSync(process.argv[1])); ${read ? 'if (readLandXmlBytes(bytes).surfaces[0].faces.length < 1e6) throw new Error();' : ''} console.log(process.resourceUsage().maxRSS / 1024);`; // prettier-ignore
  const run = spawnSync(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', program, file], { encoding: 'utf8' }); // prettier-ignore
  return Number(run.stdout.trim());
}

/** Reading a LandXML surface, beside the XML parser alone on the same file. */
export function landXmlFigure(): void {
  const folder = mkdtempSync(join(tmpdir(), 'dunrik-bench-'));
  const file = join(folder, 'surface.xml');
  try {
    writeSurface(file);
    const bytes = new Uint8Array(readFileSync(file));
    const [ours, bare]: [number[], number[]] = [[], []];
    for (let round = -1; round < ROUNDS; round++) {
      const b = timed(() => bareParser(bytes));
      const o = timed(() => {
        if (readLandXmlBytes(bytes).surfaces[0].faces.length !== 6 * (SIDE - 1) ** 2) throw new Error('not all faces are read'); // prettier-ignore
      });
      if (round < 0) continue;
      ours.push(o);
      bare.push(b);
    }
    const columns = (3 * 8 * SIDE ** 2 + 4 * 6 * (SIDE - 1) ** 2) / 1048576;
    const grown = peakOf(file, true) - peakOf(file, false);
    console.log(`LandXML of ${(bytes.length / 1e6).toFixed(1)} MB, a million faces: ${(median(ours) / median(bare)).toFixed(2)} of the XML parser alone (wanted 0.6); ${grown.toFixed(0)} MB beyond the file at the most, ${(grown / columns).toFixed(1)} times its columns (wanted 3)`); // prettier-ignore
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
