import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { partOfDrawing, readDxf, rowsOfFile, type TakenRow, type WrittenWhere } from '#core/exchange';
import type { FileUnit } from '#core/measure';
import { seeded } from '../../../demo/src/random.ts';

const CONTOURS: TakenRow[] = [{ layer: 'CONTOURS', kind: 'LWPOLYLINE', as: 'contours', code: 'CT' }];
const groups = (...of: (string | number)[]): string => `${of.join('\n')}\n`;
const line = (layer: string, places: readonly (readonly [number, number])[], closed: boolean, elevation?: number): string =>
  groups(0, 'LWPOLYLINE', 8, layer, 90, places.length, 70, closed ? 1 : 0, ...(elevation === undefined ? [] : [38, elevation]), ...places.flatMap(([x, y]) => [10, x, 20, y])); // prettier-ignore
const label = (text: string, x: number, y: number, height: number, degrees: number, more: (string | number)[] = []): string => groups(0, 'TEXT', 8, 'LABELS', 10, x, 20, y, 40, height, 50, degrees, 1, text, ...more); // prettier-ignore
const drawing = (...entities: string[]): string => groups(0, 'SECTION', 2, 'ENTITIES') + entities.join('') + groups(0, 'ENDSEC', 0, 'EOF'); // prettier-ignore

function read(text: string, written?: WrittenWhere, unit: FileUnit = 'm', taken = CONTOURS) {
  const { file, table } = partOfDrawing({ kind: 'dxf', content: readDxf(text), unit }, { taken, ...(written ? { written } : {}), unit }); // prettier-ignore
  return { lines: file.content.polylines, told: table.contours };
}
const straight = (y: number): [number, number][] => [[0, y], [50, y + 0.5], [100, y]]; // prettier-ignore

describe('elevations that are written beside contours', () => {
  it('stay unread until somebody says where they are written; what each way would give is told', () => {
    const text = drawing(line('CONTOURS', straight(0), false), line('CONTOURS', straight(20), false, 62), label('61', 40, 0, 1, 0)); // prettier-ignore
    const { lines, told } = read(text);
    expect(lines.map((l) => l.z[0])).toEqual([0, 62]);
    expect(told).toEqual({ without: 1, given: 0, unclear: [], from: { texts: 1, layers: 0 } });
    expect(read(text, 'texts').lines.map((l) => l.z[0])).toEqual([61, 62]);
  });

  it('are given to both parts of a line that makes room for them', () => {
    const text = drawing(line('CONTOURS', [[0, 0], [40, 0]], false), line('CONTOURS', [[44, 0], [90, 0]], false), line('CONTOURS', straight(20), false), label('61.5', 40.3, -0.5, 1.2, 0)); // prettier-ignore
    expect(read(text, 'texts').lines.map((l) => l.z[0])).toEqual([61.5, 61.5, 0]);
  });

  it('are of the nearest of several lines beside them, whichever the file has first', () => {
    // Texts a little above each of two contours that run 1.3 m apart.
    const [low, high] = [line('CONTOURS', straight(0), false), line('CONTOURS', straight(1.3), false)];
    const texts = [label('61', 40, 0.6, 0.5, 0), label('62', 60, 1.95, 0.5, 0)];
    expect(read(drawing(low, high, ...texts), 'texts').lines.map((l) => l.z[0])).toEqual([61, 62]);
    expect(read(drawing(high, low, ...texts), 'texts').lines.map((l) => l.z[0])).toEqual([62, 61]);
  });

  it('are 0 where 0 is written: a line along the sea has an elevation', () => {
    const { lines, told } = read(drawing(line('CONTOURS', straight(0), false), label('0', 40, 0, 1, 0)), 'texts');
    expect(lines[0]).toMatchObject({ spatial: true, z: [0, 0, 0] });
    expect(told).toMatchObject({ without: 1, given: 1 });
  });

  it('are typed for all lines of a row that have none, whatever is written, and 0 is one', () => {
    const text = drawing(line('CONTOURS', straight(0), false), line('CONTOURS', straight(20), false, 62), label('61', 40, 0, 1, 0)); // prettier-ignore
    const typed = (elevation: number, unit: FileUnit = 'm') =>
      read(text, 'texts', unit, [{ ...CONTOURS[0], elevation }]);
    expect(typed(59.5).lines.map((l) => l.z[0])).toEqual([59.5, 62]);
    expect(typed(59.5).told).toBeUndefined();
    expect(typed(0).lines[0]).toMatchObject({ spatial: true, z: [0, 0, 0] });
    // What is typed is in metres, whatever the drawing is in.
    expect(typed(59.5, 'mm').lines[0].z[0]).toBeCloseTo(59_500, 6);
    // Of lines that are no contours it says nothing.
    expect(read(text, undefined, 'm', [{ ...CONTOURS[0], as: 'lines', elevation: 5 }]).lines.map((l) => l.z[0])).toEqual([0, 62]); // prettier-ignore
  });

  it('that disagree are told with their place, and the line stays without', () => {
    const { lines, told } = read(drawing(line('CONTOURS', straight(7), false), label('61', 10, 7, 1, 0), label('62', 80, 7, 1, 0)), 'texts'); // prettier-ignore
    expect(lines[0].z).toEqual([0, 0, 0]);
    expect(told).toMatchObject({ without: 1, given: 0, unclear: [{ x: 0, y: 7, elevations: [61, 62] }] });
  });

  it('are no other texts, and none that is far off or says no height', () => {
    const text = drawing(line('CONTOURS', straight(0), false), label('KT1', 10, 0, 1, 0), label('61', 40, 9, 1, 0), groups(0, 'TEXT', 8, 'L', 10, 40, 20, 0, 1, '60')); // prettier-ignore
    expect(read(text, 'texts').told).toMatchObject({ given: 0, unclear: [] });
  });

  it('of a text whose size cannot be read are not used, and the text is not lost by it', () => {
    const text = drawing(line('CONTOURS', straight(0), false), groups(0, 'TEXT', 8, 'L', 10, 40, 20, 0, 40, 'high', 1, '61'), groups(0, 'TEXT', 8, 'L', 10, 40, 20, 0, 40, 1, 72, 'x', 1, '62')); // prettier-ignore
    expect(readDxf(text)).toMatchObject({ texts: [{ text: '61' }, { text: '62' }], problems: [] });
    expect(read(text, 'texts').lines[0].z[0]).toBe(62);
  });

  it('are in metres and feet whatever the drawing is drawn in', () => {
    const text = drawing(line('CONTOURS', straight(0), false), label('61,25', 40, 0, 1, 0));
    expect(read(text, 'texts', 'mm').lines[0].z[0]).toBe(61_250);
    expect(read(text, 'texts', 'in').lines[0].z[0]).toBe(735);
  });

  it('stand in the name of a layer, behind a hyphen too', () => {
    const taken = ['CONT-61', 'CONT_62.50', 'C -3', 'PLAIN'].map((layer) => ({ ...CONTOURS[0], layer }));
    const text = drawing(...taken.map((t, i) => line(t.layer, straight(10 * i), false)));
    const { lines, told } = read(text, 'layers', 'm', taken);
    expect(lines.map((l) => l.z[0])).toEqual([61, 62.5, -3, 0]);
    expect(told).toMatchObject({ without: 4, given: 3, from: { texts: 0, layers: 3 } });
  });

  it('come with the points that ground is made of', () => {
    const got = rowsOfFile(new TextEncoder().encode(drawing(line('CONTOURS', straight(0), false), label('61', 40, 0, 1, 0))), { taken: CONTOURS, written: 'texts', unit: 'm' }); // prettier-ignore
    expect(got.ok && got.text.split('\n').slice(1, 4).map((r) => r.split('\t')[3])).toEqual(['61', '61', '61']); // prettier-ignore
  });
});

describe('labels that another program wrote (ezdxf)', () => {
  const folder = mkdtempSync(join(tmpdir(), 'dunrik-labels-'));
  afterAll(() => rmSync(folder, { recursive: true }));

  it('are found however they are aligned and rotated, in TEXT and MTEXT', () => {
    const file = join(folder, 'labels.dxf');
    execFileSync('/usr/bin/python3', [join(import.meta.dirname, 'outside/contour_labels.py'), file]);
    const { lines, told } = read(readFileSync(file, 'utf8'), 'texts');
    expect(lines.length).toBeGreaterThan(40);
    expect(told).toMatchObject({ given: lines.length, unclear: [] });
    // Each line is drawn with its elevation in thousandths of its east: the script says which.
    for (const l of lines) expect(l.z[0]).toBe(Math.round(l.x[0] / 100) + 100);
  });
});

/** A hill of contours, each labelled on the line, above it or in a gap, its labels along it; some carry a slip. */
function site(seed: number, room: number) {
  const { next: random } = seeded(seed);
  const between = (a: number, b: number): number => a + (b - a) * random();
  const height = between(0.5, 1.5);
  // As steep as labels still find room for between two of them.
  const apart = between(room * height, 12);
  const rings = Math.round(between(4, 9));
  const [a, b, phase] = [between(0, 0.15), between(0, 0.1), between(0, 6)];
  const entities: string[] = [];
  const wanted: { elevation: number; parts: number; slip: boolean }[] = [];
  for (let k = 0; k < rings; k++) {
    const at = (angle: number): [number, number] => {
      const r = (20 + apart * k) * (1 + a * Math.cos(2 * angle + phase) + b * Math.cos(3 * angle));
      return [500 + r * Math.cos(angle), 500 + r * Math.sin(angle)];
    };
    const elevation = 100 - k;
    const slip = random() < 0.15;
    const where = between(0, 2 * Math.PI);
    const kind = slip ? 'on' : (['on', 'above', 'gap'] as const)[Math.floor(3 * random())];
    const put = (angle: number, text: string): void => {
      const [p, q] = [at(angle - 1e-4), at(angle + 1e-4)];
      const along = Math.atan2(q[1] - p[1], q[0] - p[0]);
      const [x, y] = at(angle);
      const length = 0.75 * height * text.length;
      // The middle of the letters on the line, or a third of their height above it.
      const off = kind === 'above' ? 0.8 * height : 0;
      const [mx, my] = [x - Math.sin(along) * (off - height / 2), y + Math.cos(along) * (off - height / 2)];
      entities.push(label(text, mx - (Math.cos(along) * length) / 2, my - (Math.sin(along) * length) / 2, height, (along * 180) / Math.PI)); // prettier-ignore
    };
    const half = kind === 'gap' ? (0.75 * height * 3 + height) / 2 / (20 + apart * k) : 0;
    const angles = Array.from({ length: 121 }, (_, i) => where + half + ((2 * Math.PI - 2 * half) * i) / 120);
    const course = angles.map(at);
    if (kind === 'gap') entities.push(line('CONTOURS', course, false));
    else entities.push(line('CONTOURS', course.slice(0, -1), true));
    put(where, String(elevation));
    if (slip) put(where + Math.PI, String(elevation - 3));
    wanted.push({ elevation, parts: 1, slip });
  }
  return { text: drawing(...entities), wanted };
}

function countOn(sites: number, room: number) {
  const count = { right: 0, wrong: 0, missed: 0, told: 0, slips: 0, toldForNothing: 0 };
  for (let seed = 1; seed <= sites; seed++) {
    const { text, wanted } = site(seed, room);
    const { lines, told } = read(text, 'texts');
    const unclear = new Set(told!.unclear.map((u) => `${u.x} ${u.y}`));
    lines.forEach((l, i) => {
      const isTold = unclear.has(`${l.x[0]} ${l.y[0]}`);
      const { elevation, slip } = wanted[i];
      if (slip) count.slips++;
      if (isTold) count[slip ? 'told' : 'toldForNothing']++;
      else if (l.z[0] === 0) count.missed++;
      else count[l.z[0] === elevation && !slip ? 'right' : 'wrong']++;
    });
  }
  return count;
}

describe('on invented hills', () => {
  const SITES = Number(process.env.SITES ?? 40);
  it(`every contour has its own elevation, and every slip is told (${SITES} sites)`, () => {
    const count = countOn(SITES, 6);
    expect(count).toMatchObject({ wrong: 0, missed: 0, told: count.slips, toldForNothing: 0 });
    expect(count.right).toBeGreaterThan(4 * SITES);
  });

  it('none gets a wrong one where labels hardly find room, and few are told for nothing', () => {
    const count = countOn(SITES, 2.4);
    expect(count).toMatchObject({ wrong: 0, told: count.slips });
    expect(count.toldForNothing + count.missed).toBeLessThan(0.08 * count.right);
  });
});
