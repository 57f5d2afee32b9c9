import { DEFAULT_CODE_LIST, indexCodes, readDescription } from '#core/codes';
import { buildLines, LineMemory, type CodedPoints } from '#core/linework';

const CODES = ['KT', 'ED', 'BT', 'FN', 'SW', 'WT', 'DT', 'HG'];

/** Points in lines of five: coded as crews do, every fourth line with a curve, every tenth closed; a tree on some shots. */
export function codedPoints(n: number): { x: Float64Array; y: Float64Array; description: string[] } {
  const [x, y] = [new Float64Array(n), new Float64Array(n)];
  const description: string[] = [];
  for (let i = 0; i < n; i++) {
    const line = Math.floor(i / 5);
    const k = i % 5;
    x[i] = 4000 + (line % 100) * 12 + k * 2;
    y[i] = 7000 + Math.floor(line / 100) * 6 + [0, 0.4, 0.9, 0.4, 0][k];
    const words = [k === 0 ? 'BEG' : '', line % 4 === 0 && k === 1 ? 'CUR' : '', line % 4 === 0 && k === 3 ? 'CURX' : '', k === 4 ? (line % 10 === 0 ? 'CLOSE' : 'END') : '']; // prettier-ignore
    description.push([`${CODES[line % 8]}${line}`, ...words, i % 37 === 0 ? 'TR d=0.4' : ''].filter(Boolean).join(' '));
  }
  return { x, y, description };
}

/** A text file of coded points, as it is taken in through the page. */
export function codedFile(n: number): string {
  const { x, y, description } = codedPoints(n);
  const rows = ['Number,East [m],North [m],Elevation [m],Code'];
  for (let i = 0; i < n; i++)
    rows.push(`${i + 1},${x[i].toFixed(3)},${y[i].toFixed(3)},${(60 + Math.sin(x[i] / 50) * 3).toFixed(3)},${description[i]}`); // prettier-ignore
  return rows.join('\n');
}

const timed = (work: () => unknown): number => {
  const start = performance.now();
  work();
  return performance.now() - start;
};
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** 100,000 coded points to lines, beside the parse of their descriptions alone; and what one edited code rebuilds. */
export function codedFigure(): void {
  console.log('100,000 coded points to 20,000 lines, beside the parse alone (wanted: ratio not over 5)');
  const points = codedPoints(100_000);
  const index = indexCodes(DEFAULT_CODE_LIST);
  const coded: CodedPoints = { ...points, off: () => false, group: () => 0 };
  const parse = (): void => {
    for (const text of points.description) readDescription(text, index);
  };
  const [whole, alone]: number[][] = [[], []];
  for (let i = -2; i < 9; i++) {
    const a = timed(() => buildLines(coded, DEFAULT_CODE_LIST));
    const b = timed(parse);
    if (i < 0) continue;
    whole.push(a);
    alone.push(b);
  }
  console.log(`  lines ${median(whole).toFixed(0)} ms, parse ${median(alone).toFixed(0)} ms, ratio ${(median(whole) / median(alone)).toFixed(2)} (9 pairs)`); // prettier-ignore
  const memory = new LineMemory();
  buildLines(coded, DEFAULT_CODE_LIST, memory);
  const all = memory.shaped;
  points.description[50_002] = points.description[50_002].replace(/^\w+/, 'GR');
  const again = timed(() => buildLines(coded, DEFAULT_CODE_LIST, memory));
  console.log(`  one code edited: ${memory.shaped} of ${all} lines shaped anew, ${again.toFixed(0)} ms beside ${median(whole).toFixed(0)} ms for all`); // prettier-ignore
}
