import { writeFileSync } from 'node:fs';
import { scaleLog } from 'd3';
import { surfaceFigure, type Grown } from './surface.ts';

const WIDTH = 720;
const HEIGHT = 420;
const INKS = ['#1B2B34', '#1F6F5C', '#27667C', '#85590F', '#B83524'];
const DASHES = ['', '7 4', '2 3', '10 3 2 3', '5 2'];

/** Time over the number of points, both by powers of ten, as a picture in docs/. */
export function growthFigure(): void {
  const grown = surfaceFigure([1e4, 3e4, 1e5, 3e5, 1e6]);
  writeFileSync(new URL('../docs/growth.svg', import.meta.url), chart(grown));
  console.log('  docs/growth.svg is written');
}

function chart(grown: readonly Grown[]): string {
  const x = scaleLog([1e4, 1e6], [70, WIDTH - 190]);
  const y = scaleLog([1, 10_000], [HEIGHT - 46, 20]);
  const kinds = Object.keys(grown[0].work);
  const line = (d: string, ink: string, more = ''): string => `<path d="${d}" fill="none" stroke="${ink}"${more}/>`;
  const text = (px: number, py: number, words: string, more = ''): string =>
    `<text x="${px}" y="${py}"${more}>${words}</text>`;
  const grid = [1, 10, 100, 1000, 10_000].flatMap((v) => [line(`M70 ${y(v)}H${WIDTH - 190}`, '#D8D3C6'), text(62, y(v) + 4, `${v}`, ' text-anchor="end"')]); // prettier-ignore
  const below = [1e4, 1e5, 1e6].flatMap((v) => [line(`M${x(v)} 20V${HEIGHT - 46}`, '#D8D3C6'), text(x(v), HEIGHT - 28, v.toLocaleString('en').replaceAll(',', ' '), ' text-anchor="middle"')]); // prettier-ignore
  // Names beside the ends of their lines, moved apart where they would lie over each other.
  let least = 0;
  const ends = kinds
    .map((kind, i) => ({ kind, i, at: y(grown.at(-1)!.work[kind]) }))
    .sort((a, b) => a.at - b.at)
    .map((e) => ({ ...e, at: (least = Math.max(e.at, least + 16)) }));
  const drawn = kinds.map((kind, i) => line(`M${grown.map((g) => `${x(g.points).toFixed(1)} ${y(g.work[kind]).toFixed(1)}`).join('L')}`, INKS[i], ` stroke-width="2" stroke-dasharray="${DASHES[i]}"`)); // prettier-ignore
  const names = ends.map(({ kind, i, at }) => text(WIDTH - 182, at + 4, kind, ` fill="${INKS[i]}"`));
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}" font-family="sans-serif" font-size="12" fill="#1B2B34"><rect width="100%" height="100%" fill="#FDFCF9"/>${[...grid, ...below, ...drawn, ...names].join('')}${text(70, 12, 'ms')}${text(WIDTH - 190, HEIGHT - 10, 'points', ' text-anchor="end"')}</svg>\n`; // prettier-ignore
}
