import { atShore, CORNER, QUAY, type Spot } from './site.ts';
import type { Slip } from './survey.ts';

// The quay walk as its designers drew it: in millimetres, which the drawing does not say, with what drawings come with.
// R12 of the DXF reference, which everything reads.

type Group = readonly [code: number, value: string | number];
type Place = readonly [east: number, north: number, elevation: number];

const MM = 1000;
const WALK = 62.15;

const place = ([e, n, z]: Place, add = 0): Group[] => [[10 + add, (e * MM).toFixed(1)], [20 + add, (n * MM).toFixed(1)], [30 + add, (z * MM).toFixed(1)]]; // prettier-ignore
/** At a distance along the quay and inland of it. */
const at = (along: number, inland: number, elevation: number): Place => {
  const { u, v }: Spot = atShore(QUAY.from + along, inland);
  return [CORNER.east + u, CORNER.north + v, elevation];
};

const entity = (kind: string, layer: string, ...groups: Group[]): Group[] => [[0, kind], [8, layer], ...groups];
const text = (layer: string, said: string, p: Place): Group[] => entity('TEXT', layer, ...place(p), [40, 250], [1, said]); // prettier-ignore
const line = (layer: string, a: Place, b: Place): Group[] => entity('LINE', layer, ...place(a), ...place(b, 1));
const dot = (layer: string, p: Place): Group[] => entity('POINT', layer, ...place(p));

/** In space, or in plan at one elevation; `bulges` of the sides that leave the vertices. */
function polyline(
  layer: string,
  places: readonly Place[],
  how: 'space' | 'plan',
  closed = false,
  bulges: readonly number[] = [],
): Group[] {
  const [, , z] = places[0];
  const flags = (how === 'space' ? 8 : 0) + (closed ? 1 : 0);
  return [
    ...entity('POLYLINE', layer, [66, 1], ...place([0, 0, how === 'space' ? 0 : z]), [70, flags]),
    ...places.flatMap((p, i) => entity('VERTEX', layer, ...place(p), ...(how === 'space' ? ([[70, 32]] as Group[]) : []), ...(bulges[i] ? ([[42, bulges[i]]] as Group[]) : []))), // prettier-ignore
    ...entity('SEQEND', layer),
  ];
}

const tree = (n: number, p: Place): Group[] => [
  ...entity('INSERT', 'PLANTING', [66, 1], [2, 'TREE-SMALL'], ...place(p), [41, 1], [42, 1], [43, 1], [50, 0]),
  ...entity('ATTRIB', 'PLANTING', ...place(p), [40, 200], [1, `T${n}`], [2, 'NUMBER'], [70, 1]),
  ...entity('SEQEND', 'PLANTING'),
];

/** Kerb tops along the walk; the outer one is drawn twice. */
function kerbs(): Group[] {
  const along = [0, 10, 20, 30, 40, 50, 58];
  const outer = polyline('KERB-TOP', along.map((s) => at(s, 4, WALK + 0.002 * s)), 'space'); // prettier-ignore
  const inner = polyline('KERB-TOP', along.map((s) => at(s, 9, WALK + 0.08 + 0.002 * s)), 'space'); // prettier-ignore
  return [...outer, ...inner, ...outer];
}

/** Contours of the bank behind the walk, the third at ten times its elevation. */
const contours = (): Group[] =>
  [62.4, 62.6, 62.8, 63].flatMap(
    (z, k) =>
    polyline('CONTOURS', [2, 14, 26, 38, 50].map((s, i) => at(s, 11 + 2 * k + 0.4 * (i % 2), k === 2 ? 10 * z : z)), 'plan'), // prettier-ignore
  );

/** Plans of buildings; the third was never closed. */
const buildings = (): Group[] =>
  [0, 18, 36].flatMap(
    (s, k) =>
    polyline('BUILDINGS', [at(6 + s, 22, 0), at(16 + s, 22, 0), at(16 + s, 30, 0), at(6 + s, 30, 0)], 'plan', k < 2, k === 1 ? [0, 0.4] : []), // prettier-ignore
  );

/** Elevations beside their dots; one was typed with a letter. */
const levels = (): Group[] =>
  [0, 12, 24, 36, 48].flatMap((s, k) => {
    const p = at(s + 3, 6.5, 0);
    const said = (WALK + 0.03 + 0.002 * s).toFixed(2);
    return [...dot('LEVEL-DOTS', p), ...text('LEVELS', k === 0 ? said.replace('1', 'l') : said, p)];
  });

const LAYERS: readonly [name: string, colour: number, frozen?: boolean][] = [
  ['KERB-TOP', 1],
  ['CONTOURS', 30],
  ['BUILDINGS', 5],
  ['LEVELS', 3],
  ['LEVEL-DOTS', 3],
  ['PLANTING', 92],
  ['LIMIT', 6],
  ['PAVING', 8],
  ['RAMP', 4],
  ['EARLIER SCHEME', 9, true],
  ['NOTES', 7],
  // Sent with nothing on it.
  ['SERVICES', 4],
];

/** The drawing, and the slips in it by name. */
export function designDrawing(): { name: string; text: string; slips: Slip[] } {
  const limit = polyline('LIMIT', [at(0, 3, 0), at(58, 3, 0), at(58, 20, 0), at(0, 20, 0)], 'plan', true);
  const ramp: Group[] = [at(58, 4, WALK + 0.12), at(64, 4, WALK - 0.3), at(64, 9, WALK - 0.22), at(58, 9, WALK + 0.2)].flatMap((p, i) => place(p, i)); // prettier-ignore
  const paving: Group[] = [at(0, 4, 0), at(58, 4, 0), at(0, 9, 0), at(58, 9, 0)].flatMap((p, i) => place(p, i));
  const drawn = [
    ...kerbs(),
    ...contours(),
    ...buildings(),
    ...levels(),
    ...limit,
    ...[5, 15, 25, 35, 45].flatMap((s, k) => tree(k + 1, at(s, 12, 0))),
    // Nobody meant to leave it there.
    ...tree(6, [0, 0, 0]),
    ...entity('3DFACE', 'RAMP', ...ramp),
    ...entity('SOLID', 'PAVING', ...paving),
    ...[0, 20, 40].flatMap((s) => line('EARLIER SCHEME', at(s, 5, WALK), at(s + 15, 14, WALK))),
    ...text('NOTES', 'All levels to be confirmed on site', at(4, 34, 0)),
  ];
  const groups: Group[] = [
    [0, 'SECTION'], [2, 'HEADER'], [9, '$ACADVER'], [1, 'AC1009'], [0, 'ENDSEC'],
    [0, 'SECTION'], [2, 'TABLES'],
    [0, 'TABLE'], [2, 'LTYPE'], [70, 1], [0, 'LTYPE'], [2, 'CONTINUOUS'], [70, 0], [3, 'Solid line'], [72, 65], [73, 0], [40, 0], [0, 'ENDTAB'],
    [0, 'TABLE'], [2, 'LAYER'], [70, LAYERS.length],
    ...LAYERS.flatMap(([name, colour, frozen]): Group[] => [[0, 'LAYER'], [2, name], [70, frozen ? 1 : 0], [62, colour], [6, 'CONTINUOUS']]),
    [0, 'ENDTAB'], [0, 'ENDSEC'],
    [0, 'SECTION'], [2, 'BLOCKS'],
    [0, 'BLOCK'], [8, '0'], [2, 'TREE-SMALL'], [70, 2], ...place([0, 0, 0]), [3, 'TREE-SMALL'], [1, ''],
    ...entity('CIRCLE', '0', ...place([0, 0, 0]), [40, 1200]),
    ...entity('ATTDEF', '0', ...place([0, 0, 0]), [40, 200], [1, ''], [3, 'number'], [2, 'NUMBER'], [70, 1]),
    [0, 'ENDBLK'], [8, '0'], [0, 'ENDSEC'],
    [0, 'SECTION'], [2, 'ENTITIES'], ...drawn, [0, 'ENDSEC'], [0, 'EOF'],
  ]; // prettier-ignore
  return {
    name: 'quay-walk-design.dxf',
    text: groups.map(([code, value]) => `${String(code).padStart(3)}\r\n${value}`).join('\r\n') + '\r\n',
    slips: [
      { kind: 'unit-unsaid', where: 'quay-walk-design.dxf' },
      { kind: 'hidden-layer', where: 'EARLIER SCHEME' },
      { kind: 'far-away', where: 'PLANTING T6' },
      { kind: 'doubled-line', where: 'KERB-TOP' },
      { kind: 'contour-elevation', where: 'CONTOURS 62.80' },
      { kind: 'open-footprint', where: 'BUILDINGS' },
      { kind: 'text-no-number', where: 'LEVELS' },
    ],
  };
}
