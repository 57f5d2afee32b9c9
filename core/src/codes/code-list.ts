import { DEFAULT_WORDS } from './words.ts';
import type { SymbolName, LineStyle, Ink, CodeAttribute, Code, CodeList } from './code.ts';

/** Layer of everything whose code the list does not know. */
export const UNKNOWN_LAYER = 'UNKNOWN';

const line = (
  code: string,
  name: string,
  layer: string,
  ink: Ink,
  style: LineStyle,
  breakline: boolean,
  ground = breakline,
): Code => ({ code, name, kind: 'line', layer, ink, symbol: 'dot', style, breakline, ground });

const point = (code: string, name: string, layer: string, ink: Ink, symbol: SymbolName, ground: boolean): Code => ({
  code,
  name,
  kind: 'point',
  layer,
  ink,
  symbol,
  style: 'solid',
  breakline: false,
  ground,
});

const LIST: CodeList = {
  words: { ...DEFAULT_WORDS },
  codes: [
    line('ED', 'edge of hard surface', 'EDGE', 'ink', 'solid', true),
    line('KT', 'kerb, top', 'KERB-TOP', 'ink', 'solid', true),
    line('KF', 'kerb, foot', 'KERB-FOOT', 'slate', 'solid', true),
    line('LC', 'lane centre', 'LANE-CENTRE', 'slate', 'dash-dot', true),
    line('FP', 'footpath edge', 'FOOTPATH', 'brass', 'dashed', true),
    line('BT', 'bank, top', 'BANK-TOP', 'brass', 'solid', true),
    line('BF', 'bank, foot', 'BANK-FOOT', 'brass', 'dashed', true),
    line('RG', 'ridge', 'RIDGE', 'brass', 'long-dashed', true),
    line('SW', 'swale bed', 'SWALE', 'lake', 'dashed', true),
    line('DT', 'ditch, top', 'DITCH-TOP', 'lake', 'solid', true),
    line('DB', 'ditch, bed', 'DITCH-BED', 'lake', 'dotted', true),
    line('WE', 'water’s edge', 'WATER-EDGE', 'lake', 'solid', true),
    line('WT', 'wall, top', 'WALL-TOP', 'ink', 'solid', true),
    line('WF', 'wall, foot', 'WALL-FOOT', 'slate', 'solid', true),
    line('QT', 'quay, coping', 'QUAY-COPING', 'ink', 'solid', true),
    line('QF', 'quay, foot', 'QUAY-FOOT', 'slate', 'dashed', true),
    line('SL', 'slipway edge', 'SLIPWAY', 'ink', 'solid', true),
    line('BW', 'building, wall', 'BUILDING', 'pole', 'solid', false, true),
    line('HM', 'stockpile toe', 'HEAP-FOOT', 'plum', 'dashed', true),
    line('HT', 'stockpile top', 'HEAP-TOP', 'plum', 'solid', true),
    line('PD', 'pad, edge', 'PAD', 'plum', 'long-dashed', true),
    line('FN', 'fence', 'FENCE', 'moss', 'dash-dot', false, true),
    line('HG', 'hedge', 'HEDGE', 'moss', 'solid', false, true),
    line('VG', 'edge of vegetation', 'VEGETATION', 'moss', 'dotted', false, true),
    line('OH', 'overhead line', 'OVERHEAD', 'pole', 'dotted', false, false),
    line('PI', 'pipe', 'PIPE', 'plum', 'dash-dot', false, false),
    line('CB', 'cable', 'CABLE', 'pole', 'dash-dot', false, false),
    point('GR', 'ground', 'GROUND', 'slate', 'dot', true),
    point('HP', 'stockpile surface', 'HEAP', 'plum', 'dot', true),
    point('LB', 'lake bed', 'LAKE-BED', 'lake', 'dot', true),
    point('WL', 'water level', 'WATER-LEVEL', 'lake', 'triangle', false),
    point('TR', 'tree', 'TREE', 'moss', 'crown', true),
    point('SB', 'shrub', 'SHRUB', 'moss', 'ring', true),
    point('LD', 'chamber cover', 'CHAMBER', 'plum', 'lid', true),
    point('IV', 'chamber invert', 'INVERT', 'plum', 'triangle', false),
    point('GY', 'gully', 'GULLY', 'plum', 'square', true),
    point('MP', 'mast or pole', 'MAST', 'pole', 'mast', true),
    point('LP', 'lamp', 'LAMP', 'pole', 'diamond', true),
    point('SG', 'sign', 'SIGN', 'pole', 'square', true),
    point('BO', 'bollard', 'BOLLARD', 'ink', 'ring', true),
    point('GT', 'gate post', 'GATE', 'moss', 'square', true),
    point('PG', 'peg or mark', 'MARK', 'pine', 'peg', true),
    point('CP', 'control point', 'CONTROL', 'pine', 'triangle', false),
  ],
};

const GROUPS: Record<string, string> = {
  'roads and paths': 'ED KT KF LC FP SL',
  'banks and ground': 'BT BF RG SW DT DB WE GR HP HM HT PD LB WL',
  'buildings and walls': 'BW WT WF QT QF',
  'boundaries and growth': 'FN HG VG TR SB GT',
  services: 'OH PI CB LD IV GY MP LP SG BO',
  control: 'PG CP',
};
const LOWER: Record<string, string> = { LD: 'IV', WT: 'WF', KT: 'KF', QT: 'QF' };
const ATTRIBUTES: Record<string, CodeAttribute[]> = {
  TR: [
    { name: 'kind', type: 'choice', choices: ['broadleaf', 'conifer', 'dead'] },
    { name: 'girth', type: 'number' },
    { name: 'spread', type: 'number' },
  ],
  LD: [
    { name: 'kind', type: 'choice', choices: ['foul', 'surface', 'water', 'cable'] },
    { name: 'depth', type: 'number' },
  ],
  PI: [{ name: 'diameter', type: 'whole' }],
  SG: [{ name: 'text', type: 'text' }],
};

/** The list a new project starts with: ordinary topography, in plain trade words. */
export const DEFAULT_CODE_LIST: CodeList = {
  words: LIST.words,
  codes: LIST.codes.map((c) => {
    const group = Object.keys(GROUPS).find((g) => GROUPS[g].split(' ').includes(c.code));
    return {
      ...c,
      ...(group ? { group } : {}),
      ...(LOWER[c.code] ? { lower: LOWER[c.code] } : {}),
      ...(c.code === 'PI' ? { pipe: true } : {}),
      ...(ATTRIBUTES[c.code] ? { attributes: ATTRIBUTES[c.code] } : {}),
    };
  }),
};
