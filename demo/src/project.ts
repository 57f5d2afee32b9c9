import { hashBytes } from '#core/kernel';
import { guessLayout, type TextLayout } from '#core/exchange';
import {
  designRecipe,
  FIRST_SURFACE,
  newDocument,
  type Change,
  type Comparison,
  type Given,
  type Intake,
  type Purpose,
  type Settings,
} from '#core/project';
import { demoFiles } from './files.ts';
import { CONTROL as MARKS } from './survey.ts';
import { atShore, CORNER, HEAP, PAD_LEVEL } from './site.ts';

export const DEMO_NAME = 'Ostrel Landing';

export interface DemoProject {
  name: string;
  description: string;
  settings: Partial<Settings>;
  files: { id: string; name: string; bytes: Uint8Array }[];
  changes: Change[];
}

const SHEET: Given = {
  by: 'Ostrel harbour office',
  date: '2026-05-11',
  source: 'control sheet 3',
  standing: 'fixed',
  plan: 0.006,
  height: 0.008,
};

/** The demo as a person would have made it: files taken in one after the other, comparisons set, nothing mended yet. */
export function demoProject(): DemoProject {
  const files = demoFiles().files.map((f, i) => ({
    id: `demo-${i + 1}`,
    name: f.name,
    text: f.text,
    bytes: new TextEncoder().encode(f.text),
  }));
  const doc = newDocument();
  const knownCodes = new Set(doc.codeList.codes.map((c) => c.code));
  const near = MARKS.map((m) => ({ x: m.east, y: m.north }));
  const purposeOf = (name: string): Purpose =>
    name.startsWith('control') ? 'control' : name.startsWith('boat-park') ? 'design' : 'survey';
  const changes: Change[] = files.map((file) => {
    const sounding = file.name === 'sounding.txt';
    const guess = guessLayout(file.text.split('\r\n').slice(0, 200), {
      fileName: file.name,
      unit: 'm',
      near,
      order: 'EN',
      knownCodes,
    });
    // The sounding was taken in hurriedly, in the project's order, against what the control says.
    const layout: TextLayout = sounding ? { ...guess.layout, roles: ['P', 'E', 'N', 'Z', 'D'] } : guess.layout;
    const intake: Intake = {
      id: file.id,
      fileId: file.id,
      fileName: file.name,
      sha256: hashBytes(file.bytes),
      layout,
      purpose: purposeOf(file.name),
      on: true,
      numbers: { all: 'both', each: {} },
      ...(file.name.startsWith('control') ? { given: SHEET } : {}),
    };
    const add: Change = { op: 'intake.add', intake };
    return intake.purpose === 'design'
      ? { op: 'several', what: `imported ${file.name}`, changes: [add, { op: 'surface.add', surface: designRecipe({ id: PAD, name: 'Boat park pad' }, [file.id]) }] } // prettier-ignore
      : add;
  });
  for (const comparison of comparisons()) changes.push({ op: 'comparison.set', comparison });
  return {
    name: DEMO_NAME,
    description: 'A small lake landing, surveyed in two days by two crews',
    settings: {},
    files: files.map(({ id, name, bytes }) => ({ id, name, bytes })),
    changes,
  };
}

/** The surface of the design. */
const PAD = 'pad';

function comparisons(): Comparison[] {
  const ring = (spots: { u: number; v: number }[]): number[] =>
    spots.flatMap((s) => [CORNER.east + s.u, CORNER.north + s.v]);
  const around = Array.from({ length: 24 }, (_, i) => {
    const angle = (i / 24) * 2 * Math.PI;
    return { u: HEAP.u + HEAP.radius * Math.cos(angle), v: HEAP.v + (HEAP.radius / 1.15) * Math.sin(angle) };
  });
  return [
    { id: 'pad', name: 'Boat park pad', surface: FIRST_SURFACE, against: { surface: PAD }, within: null },
    {
      id: 'heap',
      name: 'Gravel heap above 63.20',
      surface: FIRST_SURFACE,
      against: { level: 63.2 },
      within: ring(around),
    },
    {
      id: 'apron',
      name: `Slipway apron to ${PAD_LEVEL.toFixed(2)}`,
      surface: FIRST_SURFACE,
      against: { level: PAD_LEVEL },
      within: ring([atShore(64, 16), atShore(88, 16), atShore(88, 34), atShore(64, 34)]),
    },
  ];
}
