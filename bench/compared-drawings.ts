import { compareThings, dxfContent, thingsOf, type Thing } from '#core/exchange';

const LINES = 250_000;
const LAYERS = 40;
const ROUNDS = 3;

/** An issue of a drawing of 250,000 lines; of the next one 1 in 50 lines moved, went, came or is on another layer. */
function issue(next: boolean): Uint8Array {
  let seed = 1;
  const random = (): number => (seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff) / 0x80000000;
  const parts: string[] = ['0\nSECTION\n2\nENTITIES\n'];
  for (let i = 0; i < LINES; i++) {
    const [x, y] = [500_000 + random() * 5000, 4_100_000 + random() * 5000];
    const bends = Array.from({ length: 6 }, (_, k) => [2 * k, k + random()]);
    const kind = next && i % 50 === 0 ? (i / 50) % 4 : -1;
    if (kind === 0) continue;
    const [dx, layer] = [kind === 1 ? 1.5 : 0, kind === 2 ? 'ELSEWHERE' : `LAYER_${i % LAYERS}`];
    parts.push(`0\nLWPOLYLINE\n8\n${layer}\n90\n6\n70\n0\n${bends.map(([bx, by]) => `10\n${(x + bx + dx).toFixed(3)}\n20\n${(y + by).toFixed(3)}\n`).join('')}`); // prettier-ignore
  }
  parts.push('0\nENDSEC\n0\nEOF\n');
  return new TextEncoder().encode(parts.join(''));
}

const median = (v: number[]): number => [...v].sort((a, b) => a - b)[v.length >> 1];

/** Comparing two issues of a drawing, beside reading both. */
export function comparedDrawingsFigure(): void {
  const [before, after] = [issue(false), issue(true)];
  const [reading, comparing]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++) {
    let start = performance.now();
    const [a, b]: Thing[][] = [before, after].map((bytes) => thingsOf(dxfContent(bytes), 1));
    reading.push(performance.now() - start);
    start = performance.now();
    const got = compareThings(a, b, { tolerance: 1e-4, reach: 500 });
    comparing.push(performance.now() - start);
    const sum = got.unchanged + got.moved.length + got.changed.length + got.relayered.length + got.removed.length;
    if (sum !== LINES || got.moved.length !== LINES / 200) throw new Error(`not found again: ${JSON.stringify({ sum, moved: got.moved.length })}`); // prettier-ignore
  }
  console.log(`two issues of a drawing of ${LINES.toLocaleString('en-GB')} lines compared: ${(median(comparing) / median(reading)).toFixed(2)} of reading both (wanted 1.5)`); // prettier-ignore
}
